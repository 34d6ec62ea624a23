//! Opening pages and making an edit through the running server, over loopback.

use divan::Bencher;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};

fn main() {
    divan::main();
}

/// A demo server of its own, stopped at the end.
struct Server {
    child: Child,
    address: String,
}

impl Server {
    fn start() -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_kalotype"))
            .args(["demo", "--port", "0"])
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("the server starts");
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let address = line.split("http://").nth(1).and_then(|rest| rest.split('/').next());
        let address = address.expect("the server says where it is").to_owned();
        Server { child, address }
    }

    fn request(&self, method: &str, path: &str, body: &str) -> Vec<u8> {
        let mut stream = TcpStream::connect(&self.address).unwrap();
        write!(
            stream,
            "{method} {path} HTTP/1.1\r\nHost: {}\r\nConnection: close\r\n\
             Content-Type: application/json\r\nContent-Length: {}\r\n\r\n{body}",
            self.address,
            body.len()
        )
        .unwrap();
        let mut answer = Vec::new();
        stream.read_to_end(&mut answer).unwrap();
        assert!(answer.starts_with(b"HTTP/1.1 200"), "{}", String::from_utf8_lossy(&answer));
        answer
    }

    /// The id of the piece changed last: the cabin key.
    fn piece(&self) -> String {
        let page = String::from_utf8(self.request("GET", "/pieces", "")).unwrap();
        let after = page.split("data-piece=\"").nth(1).unwrap();
        after.split('"').next().unwrap().to_owned()
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

#[divan::bench]
fn page_of_pieces(bencher: Bencher) {
    let server = Server::start();
    bencher.bench(|| server.request("GET", "/pieces", ""));
}

#[divan::bench]
fn piece_page_and_its_view(bencher: Bencher) {
    let server = Server::start();
    let id = server.piece();
    bencher.bench(|| {
        server.request("GET", &format!("/pieces/{id}"), "");
        server.request("GET", &format!("/api/pieces/{id}"), "")
    });
}

/// One edit as the page makes it: parsed, built, written to the database, answered.
#[divan::bench]
fn one_edit(bencher: Bencher) {
    let server = Server::start();
    let path = format!("/api/pieces/{}/edits", server.piece());
    let mut round = 0;
    bencher.bench_local(|| {
        round += 1;
        let width = 72.0 + f64::from(round % 100) * 0.01;
        let body = format!(
            r#"{{"edits":[{{"type":{{"target":"component-1/blank","field":"width","text":"{width} mm"}}}}],"gesture":"bench"}}"#
        );
        server.request("POST", &path, &body)
    });
}
