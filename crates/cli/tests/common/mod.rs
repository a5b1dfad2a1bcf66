//! The real program, started as a user starts it.
#![allow(dead_code, reason = "each test file uses its part")]

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};

pub const FUOCO: &str = env!("CARGO_BIN_EXE_fuoco");
pub const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tamarack-dance-school.json");

/// A server that ends with the test.
pub struct Server {
    child: Child,
    pub address: String,
}

impl Server {
    pub fn start(data: &Path, more: &[&str]) -> Server {
        Server::start_as(Command::new(FUOCO), data, more)
    }

    /// As [`Server::start`], by a command that starts it.
    pub fn start_as(mut command: Command, data: &Path, more: &[&str]) -> Server {
        command.args(["serve", "--bind", "127.0.0.1:0", "--data"]).arg(data).args(more);
        Server::listening(command)
    }

    /// Anything that listens and says where.
    pub fn listening(mut command: Command) -> Server {
        let mut child = command.stdout(Stdio::piped()).spawn().expect("fuoco starts");
        let mut line = String::new();
        let out = child.stdout.take().expect("its output");
        BufReader::new(out).read_line(&mut line).expect("it prints its address");
        let address = line.trim().rsplit(' ').next().unwrap_or_default().trim_end_matches("/readings").to_owned();
        assert!(address.starts_with("http") && address.contains("://127.0.0.1:"), "it said: {line}");
        Server { child, address }
    }

    /// Ends the process at once, as a power cut would.
    pub fn kill(mut self) {
        self.child.kill().expect("it is killed");
        self.child.wait().expect("it is gone");
    }

    /// The number of its process.
    pub fn pid(&self) -> u32 {
        self.child.id()
    }

    /// Sends one request and leaves its answer to come; none where nobody listens.
    pub fn send(&self, method: &str, path: &str, headers: &[&str], body: &str) -> Option<TcpStream> {
        let host = self.address.trim_start_matches("http://");
        let mut stream = TcpStream::connect(host).ok()?;
        let mut head = format!("{method} {path} HTTP/1.1\r\nConnection: close\r\nContent-Length: {}\r\n", body.len());
        if !headers.iter().any(|h| h.to_lowercase().starts_with("host:")) {
            head += &format!("Host: {host}\r\n");
        }
        for h in headers {
            head += h;
            head += "\r\n";
        }
        // a server may refuse before it has read everything
        let _ = stream.write_all(format!("{head}\r\n{body}").as_bytes());
        Some(stream)
    }

    /// Sends a file as it is, returns status and body; 0 where nobody answers.
    pub fn send_bytes(&self, path: &str, kind: &str, bytes: &[u8]) -> (u16, String) {
        let host = self.address.trim_start_matches("http://");
        let Ok(mut stream) = TcpStream::connect(host) else { return (0, String::new()) };
        let head = format!(
            "POST {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\nContent-Type: {kind}\r\nContent-Length: {}\r\n\r\n",
            bytes.len()
        );
        let _ = stream.write_all(&[head.as_bytes(), bytes].concat());
        answer(&mut stream)
    }

    /// Sends one request, returns status and body; 0 where nobody answers.
    pub fn request(&self, method: &str, path: &str, headers: &[&str], body: &str) -> (u16, String) {
        let Some(mut stream) = self.send(method, path, headers, body) else { return (0, String::new()) };
        answer(&mut stream)
    }
}

/// Status and body of what comes; 0 where nothing does.
fn answer(stream: &mut TcpStream) -> (u16, String) {
    let mut answer = Vec::new();
    let _ = stream.read_to_end(&mut answer);
    let answer = String::from_utf8_lossy(&answer).into_owned();
    let status = answer.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
    let body = answer.split_once("\r\n\r\n").map(|x| x.1.to_owned()).unwrap_or_default();
    (status, body)
}

/// Waits until a server has ended by itself; its exit code.
pub fn wait_for_end(mut server: Server) -> Option<i32> {
    server.child.wait().expect("it ends").code()
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
