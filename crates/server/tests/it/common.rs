//! The API asked in memory, as a browser on this machine would.
#![allow(dead_code, reason = "not every suite asks in every way")]

use fuoco_server::{DEMO, Listen, build};
use fuoco_store::Store;
use rocket::http::uri::{Authority, Host};
use rocket::http::{ContentType, Method, Status};
use rocket::local::asynchronous::Client;
use serde_json::Value;
use tempfile::TempDir;

pub struct Api {
    client: Client,
    _folder: TempDir,
}

impl Api {
    pub async fn new() -> Api {
        let folder = tempfile::tempdir().expect("folder");
        let store = Store::open(folder.path()).await.expect("opens");
        let client = Client::tracked(build(store, Listen::here("127.0.0.1:0".parse().expect("address"))))
            .await
            .expect("ignites");
        Api { client, _folder: folder }
    }

    pub async fn send(
        &self,
        method: &str,
        path: &str,
        kind: Option<ContentType>,
        body: Vec<u8>,
    ) -> (Status, String, Vec<u8>) {
        let mut request = self.client.req(method.parse::<Method>().expect("method"), path.to_owned());
        request.inner_mut().set_host(Host::from(Authority::parse("localhost").expect("host")));
        if let Some(kind) = kind {
            request = request.header(kind);
        }
        let answer = request.body(body).dispatch().await;
        let (status, kind) = (answer.status(), answer.content_type().map(|c| c.to_string()).unwrap_or_default());
        (status, kind, answer.into_bytes().await.unwrap_or_default())
    }

    pub async fn json(&self, path: &str, body: &Value) -> (u16, Value) {
        let (status, _, bytes) = self.send("POST", path, Some(ContentType::JSON), body.to_string().into_bytes()).await;
        (status.code, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
    }

    pub async fn file(&self, path: &str, kind: ContentType, body: &[u8]) -> (u16, Value) {
        let (status, _, bytes) = self.send("POST", path, Some(kind), body.to_vec()).await;
        (status.code, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
    }
}

pub fn demo() -> Value {
    serde_json::from_str(DEMO).expect("the demo")
}
