//! The binary as a person uses it from a terminal.

use kalotype_core::formats::stl;
use serde_json::Value;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Output, Stdio};

fn kalotype(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_kalotype")).args(arguments).output().unwrap()
}

fn demo_piece(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../../demo/{name}.kalotype.json"))
}

fn text(path: &Path) -> &str {
    path.to_str().unwrap()
}

#[test]
fn build_writes_both_forms_of_the_same_closed_solid() {
    let folder = tempfile::tempdir().unwrap();
    let piece = demo_piece("quay-tag");
    let out = folder.path().join("tag.stl");
    let mut volumes = Vec::new();
    for extra in [&[][..], &["--ascii"], &["--tolerance", "fine"]] {
        let done = kalotype(&[&["build", text(&piece), "-o", text(&out)], extra].concat());
        assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
        let mesh = stl::read(&std::fs::read(&out).unwrap()).unwrap();
        assert!(mesh.faults().is_sound());
        volumes.push(mesh.measures().volume);
    }
    assert!((volumes[0] - volumes[1]).abs() < 1e-6 * volumes[0]);
    assert!(volumes[2] > volumes[0], "finer curves lose less");
}

#[test]
fn facts_are_json_and_agree_with_the_file() {
    let done = kalotype(&["facts", text(&demo_piece("tide-medal"))]);
    let facts: Value = serde_json::from_slice(&done.stdout).unwrap();
    assert_eq!(facts["name"], "Tide medal, Ğülşah");
    assert_eq!(facts["parts"], 1);
    assert_eq!(facts["findings"], serde_json::json!([]));
    assert!(facts["volume_mm3"].as_f64().unwrap() > 8000.0);
}

#[test]
fn components_are_built_side_by_side_or_each_on_its_own_and_their_joints_told() {
    let folder = tempfile::tempdir().unwrap();
    let sign = demo_piece("desk-harbour-office");
    let volume_of = |path: &Path| {
        let mesh = stl::read(&std::fs::read(path).unwrap()).unwrap();
        assert!(mesh.faults().is_sound());
        mesh.measures().volume
    };
    let whole = folder.path().join("sign.stl");
    assert!(kalotype(&["build", text(&sign), "-o", text(&whole)]).status.success());
    let parts = folder.path().join("parts");
    std::fs::create_dir(&parts).unwrap();
    let each = ["build", text(&sign), "-o", text(&parts), "--format", "stl", "--each", "--json"];
    let told: Value = serde_json::from_slice(&kalotype(&each).stdout).unwrap();
    let files: Vec<&str> = told["files"]
        .as_array()
        .unwrap()
        .iter()
        .map(|file| file["path"].as_str().unwrap())
        .collect();
    assert!(
        files.len() == 2 && files[0].contains("upright") && files[1].contains("foot"),
        "{files:?}"
    );
    let volumes: Vec<f64> = files.iter().map(|path| volume_of(Path::new(path))).collect();
    let all = volume_of(&whole);
    assert!((volumes[0] + volumes[1] - all).abs() < 1e-5 * all);

    let facts: Value = serde_json::from_slice(&kalotype(&["facts", text(&sign)]).stdout).unwrap();
    for (component, volume) in facts["components"].as_array().unwrap().iter().zip(&volumes) {
        let said = component["volume_mm3"].as_f64().unwrap();
        assert!((said - volume).abs() < 1e-5 * volume, "{} {said} {volume}", component["name"]);
    }
    // A plate of 4 mm in a snug slot of 4.1 (a check value of the trade; common practice, no source).
    let said = kalotype(&["fit", text(&sign)]).stdout;
    assert_eq!(
        String::from_utf8(said).unwrap(),
        "Upright in Foot: a slot 4.1 mm wide, 140.1 mm long, 12 mm deep, leaning 10°; 0.05 mm of room on \
         either side\n"
    );
    let joints = kalotype(&["fit", text(&sign), "--json"]).stdout;
    let joints: Value = serde_json::from_slice(&joints).unwrap();
    assert!((joints[0]["clearance_mm"].as_f64().unwrap() - 0.1).abs() < 1e-12);
    let none = kalotype(&["fit", text(&demo_piece("berth-7"))]).stdout;
    assert_eq!(none, b"Nothing in this piece is joined.\n");
}

#[test]
fn what_cannot_be_done_ends_with_its_own_exit_code_and_reason() {
    let folder = tempfile::tempdir().unwrap();
    let good = std::fs::read_to_string(demo_piece("cabin-key-solveig")).unwrap();
    let write = |name: &str, content: &str| {
        let path = folder.path().join(name);
        std::fs::write(&path, content).unwrap();
        path
    };
    let broken = write("broken.json", &good.replace("\"width\": 72.0", "\"width\": -1"));
    let buried = write("buried.json", &good.replace("\"diameter\": 5.0", "\"diameter\": 300.0"));
    let out = folder.path().join("out.stl");
    for (arguments, code, words) in [
        (vec!["build", "no-such.json", "-o", text(&out)], 1, "cannot read no-such.json"),
        (vec!["build", text(&broken), "-o", text(&out)], 1, "components[0].blank.plate.width"),
        (vec!["build", text(&buried), "-o", text(&out)], 3, "Nothing is left of the plate"),
        (vec!["facts", text(&buried)], 3, ""),
        (vec!["build"], 2, "required arguments"),
        (vec!["build", text(&broken), "-o", "out.step"], 1, "must end in .stl, .3mf, .obj"),
        (vec!["build", text(&broken), "-o", "out.obj", "--ascii"], 1, "--ascii is for STL"),
        (vec!["build", text(&broken), "-o", text(&out), "--tolerance", "rough"], 2, "draft"),
    ] {
        let done = kalotype(&arguments);
        let said = String::from_utf8_lossy(&done.stderr);
        assert_eq!(done.status.code(), Some(code), "{arguments:?}: {said}");
        assert!(said.contains(words), "{arguments:?}: {said}");
    }
    assert!(!out.exists(), "nothing half written is left");
}

/// The watch medal has three colours.
#[test]
fn colours_are_written_together_split_and_apart_and_reported_as_json() {
    let folder = tempfile::tempdir().unwrap();
    let medal = demo_piece("watch-medal");
    let build = |output: &Path, extra: &[&str]| {
        let done =
            kalotype(&[&["build", text(&medal), "-o", text(output), "--json"], extra].concat());
        assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
        serde_json::from_slice::<Value>(&done.stdout).unwrap()
    };
    let whole = build(&folder.path().join("medal.stl"), &[]);
    assert_eq!(whole["facts"]["bodies"].as_array().unwrap().len(), 3);
    let split = build(folder.path(), &["--format", "stl", "--colours", "split"]);
    let files = split["files"].as_array().unwrap();
    assert_eq!(files.len(), 3);
    let mut volume = 0.0;
    for file in files {
        let bytes = std::fs::read(file["path"].as_str().unwrap()).unwrap();
        assert_eq!(file["bytes"], bytes.len());
        let mesh = stl::read(&bytes).unwrap();
        assert!(mesh.faults().is_sound());
        volume += mesh.measures().volume;
    }
    let exact = whole["facts"]["volume_mm3"].as_f64().unwrap();
    assert!((volume - exact).abs() < 1e-5 * exact);

    let zip = build(&folder.path().join("medal.zip"), &["--format", "obj", "--colours", "apart"]);
    assert_eq!(zip["files"].as_array().unwrap().len(), 1);
    for (ending, begins) in
        [("svg", &b"<svg"[..]), ("dxf", b"  0"), ("png", b"\x89PNG"), ("3mf", b"PK")]
    {
        let out = folder.path().join(format!("medal.{ending}"));
        build(&out, &["--colours", "split"]);
        assert!(std::fs::read(&out).unwrap().starts_with(begins), "{ending}");
    }
    // Several files do not fit into one name.
    let into_one = folder.path().join("one.stl");
    let done = kalotype(&["build", text(&medal), "-o", text(&into_one), "--colours", "split"]);
    let said = String::from_utf8_lossy(&done.stderr);
    assert_eq!(done.status.code(), Some(1));
    assert!(said.contains("3 files are to be written"), "{said}");

    let swaps = kalotype(&["swaps", text(&medal), "--pause", "m0"]);
    let said = String::from_utf8(swaps.stdout).unwrap();
    assert!(said.contains("1. Before layer 26, at 5 mm: change to Sail white"), "{said}");
    assert!(said.ends_with("\nM0\n"), "{said}");
}

#[test]
fn a_mesh_is_looked_into_and_its_faults_have_an_exit_code() {
    let folder = tempfile::tempdir().unwrap();
    let medal = folder.path().join("medal.3mf");
    let built = kalotype(&[
        "build",
        text(&demo_piece("watch-medal")),
        "-o",
        text(&medal),
        "--colours",
        "split",
    ]);
    assert!(built.status.success());
    let look = |path: &Path| {
        let done = kalotype(&["look", text(path), "--json"]);
        (done.status.code(), serde_json::from_slice::<Value>(&done.stdout).unwrap_or_default())
    };
    let (code, report) = look(&medal);
    assert_eq!(
        (code, &report["unit"], &report["is_sound"]),
        (Some(0), &"millimeter".into(), &true.into())
    );
    let names: Vec<_> = report["bodies"].as_array().unwrap().iter().map(|b| &b["name"]).collect();
    assert_eq!(names, ["Harbour blue", "Sail white", "Lantern yellow"]);
    assert_eq!(report["bodies"][2]["colour"], "#e9bc3f");

    let open = folder.path().join("open.obj");
    std::fs::write(&open, "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n").unwrap();
    let (code, report) = look(&open);
    assert_eq!((code, &report["faults"]["open_edges"]), (Some(4), &3.into()));
    assert_eq!(report["sentences"][0], "3 open edges: there is a gap in the surface.");

    let nothing = folder.path().join("nothing.stl");
    std::fs::write(&nothing, "a note").unwrap();
    let done = kalotype(&["look", text(&nothing)]);
    let said = String::from_utf8_lossy(&done.stderr);
    assert_eq!(done.status.code(), Some(1));
    assert!(said.contains("This is no STL, OBJ or 3MF file"), "{said}");
}

/// From a mesh to a piece file and on to a named mesh, with the mesh file beside the piece or named.
#[test]
fn a_piece_is_made_of_a_mesh() {
    let folder = tempfile::tempdir().unwrap();
    let file = |name: &str| folder.path().join(name);
    let (hull, piece) = (file("Ferry Hull.STL"), file("hull.json"));
    std::fs::copy(demo_piece("x").with_file_name("ferry-hull.stl"), &hull).unwrap();
    let look = kalotype(&["look", text(&hull)]);
    let said = String::from_utf8_lossy(&look.stdout);
    assert!(said.contains("1  top        96.00 × 26.00 mm"), "{said}");
    let made = kalotype(&["blank", text(&hull), "-o", text(&piece), "--name", "Skiff, Ægir"]);
    assert!(made.status.success(), "{}", String::from_utf8_lossy(&made.stderr));
    let facts = |arguments: &[&str]| {
        let done = kalotype(&[&["facts"], arguments].concat());
        (done.status.code(), serde_json::from_slice::<Value>(&done.stdout).unwrap())
    };
    let (code, beside) = facts(&[text(&piece)]);
    assert_eq!((code, &beside["name"]), (Some(0), &"Skiff, Ægir".into()));
    assert_eq!(beside["size_mm"], serde_json::json!([96.0, 26.0, 18.0]));

    let far = file("far");
    std::fs::create_dir(&far).unwrap();
    let far = far.join("hull.json");
    std::fs::rename(&piece, &far).unwrap();
    let (code, lost) = facts(&[text(&far)]);
    assert_eq!((code, &lost["findings"][0]["code"]), (Some(3), &"mesh-missing".into()));
    let (code, named) = facts(&[text(&far), "--mesh", text(&hull)]);
    assert_eq!((code, &named["volume_mm3"]), (Some(0), &beside["volume_mm3"]));

    let inches = kalotype(&["blank", text(&hull), "-o", text(&piece), "--scale", "25.4"]);
    let said = String::from_utf8_lossy(&inches.stderr);
    assert!(inches.status.code() == Some(1) && said.contains("500 mm"), "{said}");
    let face = kalotype(&["blank", text(&hull), "-o", text(&piece), "--face", "40"]);
    let said = String::from_utf8_lossy(&face.stderr);
    assert!(face.status.code() == Some(1) && said.contains("no flat face 40"), "{said}");
}

/// A server on a free port, killed without warning at the end.
struct Server {
    child: Child,
    address: String,
}

impl Server {
    fn start(data: &Path) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_kalotype"))
            .args(["serve", "--port", "0", "--data", text(data)])
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let address = line.split("http://").nth(1).and_then(|rest| rest.split('/').next());
        Server { address: address.unwrap().to_owned(), child }
    }

    fn request(&self, method: &str, path: &str, body: &str) -> String {
        let mut stream = TcpStream::connect(&self.address).unwrap();
        let (host, length) = (&self.address, body.len());
        write!(
            stream,
            "{method} {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n\
             Content-Type: application/json\r\nContent-Length: {length}\r\n\r\n{body}"
        )
        .unwrap();
        let mut answer = Vec::new();
        stream.read_to_end(&mut answer).unwrap();
        String::from_utf8_lossy(&answer).into_owned()
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

#[test]
fn a_killed_server_loses_nothing_it_has_acknowledged() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start(folder.path());
    let made = server.request("POST", "/api/pieces", r#"{"name":"Lantern, Łucja","units":"mm"}"#);
    let id = made.split("\"id\":\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let path = format!("/api/pieces/{id}");
    for width in ["80", "3 in"] {
        let edit = format!(
            r#"{{"edits":[{{"type":{{"target":"component-1/blank","field":"width","text":"{width}"}}}}]}}"#
        );
        assert!(
            server.request("POST", &format!("{path}/edits"), &edit).starts_with("HTTP/1.1 200")
        );
    }
    drop(server);

    let server = Server::start(folder.path());
    assert!(server.request("GET", &path, "").contains("\"width\":76.2"));
    assert!(server.request("POST", &format!("{path}/undo"), "").contains("\"width\":80.0"));
    let refused =
        r#"{"edits":[{"type":{"target":"component-1/blank","field":"width","text":"wide"}}]}"#;
    let answer = server.request("POST", &format!("{path}/edits"), refused);
    assert!(
        answer.starts_with("HTTP/1.1 422") && answer.contains("\"field\":\"width\""),
        "{answer}"
    );
    assert!(server.request("GET", "/pieces", "").contains("Lantern, Łucja"));
}

#[test]
fn a_second_server_on_one_folder_is_told_so_and_harms_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let server = Server::start(folder.path());
    let made = server.request("POST", "/api/pieces", r#"{"name":"Berth 3, Åse","units":"mm"}"#);
    assert!(made.starts_with("HTTP/1.1 2"), "{made}");
    let second = kalotype(&["serve", "--port", "0", "--data", text(folder.path())]);
    let said = String::from_utf8_lossy(&second.stderr);
    assert_eq!(second.status.code(), Some(1));
    assert!(said.contains("another Kalotype is at work") && said.lines().count() == 1, "{said}");
    // It is the database that is held, and no file beside it that could be cleared away.
    let mut there: Vec<String> = std::fs::read_dir(folder.path())
        .unwrap()
        .map(|entry| entry.unwrap().file_name().to_string_lossy().into_owned())
        .collect();
    there.retain(|name| !name.starts_with("kalotype.db"));
    assert_eq!(there, Vec::<String>::new());
    assert!(server.request("GET", "/pieces", "").contains("Berth 3, Åse"));
    // A killed server leaves no hold behind.
    drop(server);
    let server = Server::start(folder.path());
    assert!(server.request("GET", "/pieces", "").contains("Berth 3, Åse"));
}

#[test]
fn what_cannot_be_opened_is_said_in_one_line_at_once() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("kalotype.db");
    std::fs::write(&file, "a shopping list, of all things\n".repeat(200)).unwrap();
    let refused = kalotype(&["serve", "--port", "0", "--data", text(folder.path())]);
    let said = String::from_utf8_lossy(&refused.stderr);
    assert_eq!(refused.status.code(), Some(1));
    assert!(said.contains("is not a database") && said.lines().count() == 1, "{said}");

    let short = ["serve", "--port", "0", "--address", "0.0.0.0", "--pass-phrase", "tide"];
    let refused = kalotype(&[&short[..], &["--data", text(&folder.path().join("own"))]].concat());
    let said = String::from_utf8_lossy(&refused.stderr);
    assert!(said.contains("at least 8 characters"), "{said}");
}

/// A text that counts gives every copy its own number; a piece without one has no copies to tell apart.
#[test]
fn copies_have_their_own_numbers() {
    let folder = tempfile::tempdir().unwrap();
    let token = demo_piece("cloakroom-token");
    let build = |copies: &str, piece: &Path| {
        kalotype(&[
            "build",
            text(piece),
            "-o",
            text(folder.path()),
            "--format",
            "stl",
            "--copies",
            copies,
        ])
    };
    let done = build("3", &token);
    assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
    let mut files: Vec<(String, f64)> = std::fs::read_dir(folder.path())
        .unwrap()
        .map(|file| {
            let path = file.unwrap().path();
            let mesh = stl::read(&std::fs::read(&path).unwrap()).unwrap();
            assert!(mesh.faults().is_sound());
            (path.file_name().unwrap().to_string_lossy().into_owned(), mesh.measures().volume)
        })
        .collect();
    files.sort_by(|a, b| a.0.cmp(&b.0));
    let names: Vec<&str> = files.iter().map(|(name, _)| name.as_str()).collect();
    assert_eq!(names.len(), 3);
    for (name, number) in names.iter().zip(["001", "002", "003"]) {
        assert!(name.contains(number), "{names:?}");
    }
    // Other figures are sunk into each.
    assert!((files[0].1 - files[1].1).abs() > 1e-3 && (files[1].1 - files[2].1).abs() > 1e-3);
    for copies in ["0", "101"] {
        let refused = build(copies, &token);
        assert_eq!(refused.status.code(), Some(1));
        assert!(String::from_utf8_lossy(&refused.stderr).contains("1 to 100 copies"));
    }
    let alike = build("2", &demo_piece("quay-tag"));
    assert!(String::from_utf8_lossy(&alike.stderr).contains("no text of this piece counts"));
}

#[cfg(unix)]
#[test]
fn what_is_written_goes_where_links_and_pipes_lead() {
    use std::fs::{self, Permissions};
    use std::os::unix::fs::{PermissionsExt, symlink};
    let folder = tempfile::tempdir().unwrap();
    let at = |name: &str| folder.path().join(name);
    let build = |out: &Path| {
        let done = kalotype(&["build", text(&demo_piece("quay-tag")), "-o", text(out)]);
        assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
    };
    let whole = |path: &Path| stl::read(&fs::read(path).unwrap()).unwrap().triangles.len();
    // A new file has what the umask leaves; one that is replaced keeps what it had.
    let plain = at("plain.stl");
    build(&plain);
    fs::write(at("beside"), "").unwrap();
    let mode = |path: &Path| fs::metadata(path).unwrap().permissions().mode() & 0o777;
    assert_eq!(mode(&plain), mode(&at("beside")));
    fs::set_permissions(&plain, Permissions::from_mode(0o640)).unwrap();
    build(&plain);
    assert_eq!(mode(&plain), 0o640);
    let triangles = whole(&plain);
    // Links stay links, also to what is not there yet.
    fs::create_dir(at("shelf")).unwrap();
    for (link, target) in [("old.stl", "plain.stl"), ("new.stl", "shelf/new.stl")] {
        symlink(target, at(link)).unwrap();
        build(&at(link));
        assert!(fs::symlink_metadata(at(link)).unwrap().is_symlink());
        assert_eq!(whole(&at(target)), triangles);
    }
    // A pipe is written into.
    let pipe = at("pipe.stl");
    assert!(Command::new("mkfifo").arg(&pipe).status().unwrap().success());
    let reader = std::thread::spawn({
        let pipe = pipe.clone();
        move || fs::read(pipe).unwrap()
    });
    build(&pipe);
    assert_eq!(stl::read(&reader.join().unwrap()).unwrap().triangles.len(), triangles);
    assert!(
        fs::read_dir(folder.path())
            .unwrap()
            .all(|one| { !one.unwrap().file_name().to_string_lossy().starts_with(".tmp") })
    );
}

/// What reads files of others for a server ends by itself, whatever is in them, and takes no more memory than it may.
#[test]
fn files_that_never_end_are_read_within_limits() {
    let read = |what: &str, file: &[u8]| {
        let mut child = Command::new(env!("CARGO_BIN_EXE_kalotype"))
            .args(["read", what])
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        // It may end before it has taken everything in.
        let _ = child.stdin.take().unwrap().write_all(file);
        child.wait_with_output().unwrap()
    };
    let svg = |inner: &str| {
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"50mm\" height=\"50mm\" viewBox=\"0 0 100 100\">{inner}</svg>"
        )
    };
    let plain = svg("<path d=\"M10 10h80v80h-80z\"/>");
    assert!(read("picture", plain.as_bytes()).status.success());
    assert!(read("drawing", plain.as_bytes()).stdout.len() > 100);
    let masks: String = (0..200)
        .map(|i| {
            let next = i + 1;
            let rect =
                format!("<rect width=\"99\" height=\"99\" fill=\"#fff\" mask=\"url(#m{next})\"/>");
            format!("<mask id=\"m{i}\">{rect}{rect}</mask>")
        })
        .collect();
    let masks = svg(&format!(
        "<defs>{masks}</defs><g mask=\"url(#m0)\"><path d=\"M10 10h80v80h-80z\"/></g>"
    ));
    let since = std::time::Instant::now();
    assert!(!read("picture", masks.as_bytes()).status.success());
    assert!(since.elapsed().as_secs() < 60, "the limit is one of processor time");
}
