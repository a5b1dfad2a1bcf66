//! Take-off, price lists and order lists over HTTP.

use crate::common::{Api, demo};
use rocket::http::ContentType;
use serde_json::{Value, json};

#[rocket::async_test]
async fn a_job_is_counted_and_what_is_wrong_named() {
    let api = Api::new().await;
    let (status, counted) = api.json("/api/materials", &demo()).await;
    assert_eq!(status, 200, "{counted}");
    assert!(counted["lines"].as_array().is_some_and(|l| l.len() > 20));
    assert_eq!((&counted["missing_prices"], &counted["coils"][0]["optimal"]), (&json!(0), &json!(true)));
    assert_eq!(counted["quote"].as_array().map(Vec::len), Some(2));
    let refused = async |change: fn(&mut Value)| {
        let mut job = demo();
        change(&mut job);
        let (status, problem) = api.json("/api/materials", &job).await;
        assert_eq!(status, 422, "{problem}");
        problem["field"].as_str().unwrap_or_default().to_owned()
    };
    assert_eq!(refused(|j| j["purchasing"]["labour"]["crew"] = json!(0)).await, "purchasing.labour.crew");
    assert_eq!(refused(|j| j["purchasing"]["quote"]["tax"] = json!(-0.1)).await, "purchasing.quote.tax");
    assert_eq!(
        refused(|j| j["purchasing"]["quote"]["options"][0]["without"] = json!(["garden"])).await,
        "purchasing.quote.options[0].without[0]"
    );
    assert_eq!(
        refused(|j| j["purchasing"]["prices"]["rows"][0]["price"] = json!("dear")).await,
        "purchasing.prices.rows[0].price"
    );
    let (status, _) = api.json("/api/materials", &json!({ "format": "something-else" })).await;
    assert_eq!(status, 422);
}

#[rocket::async_test]
async fn a_price_list_goes_out_is_filled_in_and_comes_back() {
    let api = Api::new().await;
    let mut job = demo();
    job["purchasing"]["prices"]["rows"] = json!([]);
    let (status, made) = api.json("/api/jobs/from-file", &job).await;
    assert_eq!(status, 200);
    let id = made["id"].as_str().expect("an id");
    let (status, kind, list) = api.send("GET", &format!("/api/jobs/{id}/prices.csv"), None, vec![]).await;
    assert!(status.code == 200 && kind.starts_with("text/csv"), "{status} {kind}");
    let list = String::from_utf8(list).expect("text");
    // every article is there without a price; all of them are given one
    assert!(list.lines().skip(1).all(|l| l.ends_with(",,")), "{list}");
    let filled: String = list.lines().map(|l| format!("{}\n", l.replace(",,", ",2.5,"))).collect();
    let (status, read) = api.json("/api/import/prices", &json!({ "job": job, "text": filled })).await;
    assert_eq!((status, read["problems"].as_array().map(Vec::len)), (200, Some(0)), "{read}");
    assert_eq!(read["added"].as_u64(), Some(list.lines().count() as u64 - 1));
    let (_, counted) = api.json("/api/materials", &read["job"]).await;
    assert_eq!(counted["missing_prices"], json!(0));
    let (status, problem) = api.json("/api/import/prices", &json!({ "job": job, "text": "name,worth\na,1\n" })).await;
    assert_eq!((status, &problem["field"]), (422, &json!("line 1")), "{problem}");
    let (status, kind, order) = api.send("GET", &format!("/api/jobs/{id}/order.csv"), None, vec![]).await;
    assert!(status.code == 200 && kind.starts_with("text/csv"));
    assert!(String::from_utf8_lossy(&order).lines().any(|l| l.starts_with("coil/pex-16x2/")));
    for path in ["/api/jobs/none/prices.csv", "/api/jobs/none/order.csv"] {
        assert_eq!(api.send("GET", path, None, vec![]).await.0.code, 404, "{path}");
    }
    let text = b"article,price".to_vec();
    assert_eq!(api.send("POST", "/api/import/prices", Some(ContentType::CSV), text).await.0.code, 415);
}
