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
        assert!(mesh.soundness().is_sound());
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
    assert_eq!(facts["bodies"], 1);
    assert_eq!(facts["findings"], serde_json::json!([]));
    assert!(facts["volume_mm3"].as_f64().unwrap() > 8000.0);
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
        (vec!["build", text(&broken), "-o", "out.step"], 1, "must end in .stl, .3mf or .obj"),
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
            r#"{{"edits":[{{"type":{{"target":"blank","field":"width","text":"{width}"}}}}]}}"#
        );
        assert!(
            server.request("POST", &format!("{path}/edits"), &edit).starts_with("HTTP/1.1 200")
        );
    }
    drop(server);

    let server = Server::start(folder.path());
    assert!(server.request("GET", &path, "").contains("\"width\":76.2"));
    assert!(server.request("POST", &format!("{path}/undo"), "").contains("\"width\":80.0"));
    let refused = r#"{"edits":[{"type":{"target":"blank","field":"width","text":"wide"}}]}"#;
    let answer = server.request("POST", &format!("{path}/edits"), refused);
    assert!(
        answer.starts_with("HTTP/1.1 422") && answer.contains("\"field\":\"width\""),
        "{answer}"
    );
    assert!(server.request("GET", "/pieces", "").contains("Lantern, Łucja"));
}
