//! Answers as JSON, figures without the sign of nothing.

use crate::work::failed;
use fuoco_core::figures;
use rocket::Request;
use rocket::http::ContentType;
use rocket::response::{self, Responder};
use serde::Serialize;

/// A value that is answered as JSON.
pub struct Json<T>(pub T);

impl<'r, T: Serialize> Responder<'r, 'static> for Json<T> {
    fn respond_to(self, request: &'r Request<'_>) -> response::Result<'static> {
        match figures::json(&self.0) {
            Ok(text) => (ContentType::JSON, text).respond_to(request),
            Err(e) => failed(&e.to_string()).respond_to(request),
        }
    }
}
