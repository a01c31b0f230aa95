//! Sending requests through the real router.

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::{HeaderMap, HeaderValue, Request, StatusCode, header};
use fondant_app::records::CastId;
use fondant_testkit::TestApp;
use tower::ServiceExt;

/// An answer, read to its end.
pub(crate) struct Answer {
    pub(crate) status: StatusCode,
    pub(crate) headers: HeaderMap,
    pub(crate) text: String,
    pub(crate) bytes: Vec<u8>,
}

pub(crate) async fn send(app: &TestApp, request: Request<Body>) -> Answer {
    send_to(app.router(), request).await
}

pub(crate) async fn send_to(router: Router, mut request: Request<Body>) -> Answer {
    let host = HeaderValue::from_static("localhost:7350");
    request.headers_mut().entry(header::HOST).or_insert(host);
    let response = router.oneshot(request).await.expect("an answer");
    let (status, headers) = (response.status(), response.headers().clone());
    let bytes = to_bytes(response.into_body(), 1 << 24).await.expect("a body");
    let text = String::from_utf8_lossy(&bytes).into_owned();
    Answer { status, headers, text, bytes: bytes.to_vec() }
}

impl Answer {
    /// A header as text; empty where it is not set.
    pub(crate) fn header(&self, name: &str) -> &str {
        self.headers.get(name).and_then(|value| value.to_str().ok()).unwrap_or_default()
    }
}

pub(crate) async fn get(app: &TestApp, path: &str) -> Answer {
    send(app, Request::get(path).body(Body::empty()).expect("a request")).await
}

pub(crate) async fn post(app: &TestApp, path: &str, form: &[(&str, &str)]) -> Answer {
    post_as(app, path, form, true).await
}

pub(crate) async fn post_as(
    app: &TestApp,
    path: &str,
    form: &[(&str, &str)],
    htmx: bool,
) -> Answer {
    let body = url::form_urlencoded::Serializer::new(String::new()).extend_pairs(form).finish();
    let mut request = Request::post(path)
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
        .header("Sec-Fetch-Site", "same-origin");
    if htmx {
        request = request.header("HX-Request", "true");
    }
    send(app, request.body(Body::from(body)).expect("a request")).await
}

/// Names and values that a browser would send of a page's fields, as they stand.
pub(crate) fn as_sent(page: &str) -> Vec<(String, String)> {
    let attribute = |tag: &str, name: &str| {
        let (_, from) = tag.split_once(&format!(" {name}=\""))?;
        Some(from.split('"').next().unwrap_or_default().to_owned())
    };
    let mut all = Vec::new();
    for from in page.split('<') {
        let tag = from.split('>').next().unwrap_or_default();
        let is_unticked = ["checkbox", "radio"].iter().any(|kind| tag.contains(kind))
            && !tag.ends_with(" checked");
        let value = attribute(tag, "value");
        match tag.split(' ').next() {
            Some("input") if !is_unticked => {
                all.extend(attribute(tag, "name").map(|name| (name, value.unwrap_or_default())));
            }
            // The first option counts until one that is chosen comes.
            Some("select") => all.extend(attribute(tag, "name").map(|name| (name, String::new()))),
            Some("option") => {
                if let Some((_, chosen)) = all.last_mut()
                    && (chosen.is_empty() || tag.ends_with(" selected"))
                {
                    *chosen = value.unwrap_or_default();
                }
            }
            _ => {}
        }
    }
    all
}

/// The form of station 3 of a river top as it stands, with some fields changed.
pub(crate) fn form_fields<'a>(changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut form = vec![
        ("revision", "1"),
        ("base_gap", "2 mm"),
        ("overfill", "2 mm"),
        ("residue", "3 %"),
        ("leak", "0"),
        ("fall", "0"),
        ("sheet", "melamine"),
        ("sheet_thickness", "18 mm"),
        ("release", "tape"),
        ("sealant", "5 mm"),
        ("stock_length", "2440 mm"),
        ("stock_width", "1220 mm"),
        ("saw", "3 mm"),
        ("figure", "stations"),
        ("dry_fill", ""),
        ("weighed-0", ""),
        ("weighed-1", ""),
    ];
    for (name, value) in changes {
        match form.iter_mut().find(|(n, _)| n == name) {
            Some(field) => field.1 = value,
            None => form.push((name, value)),
        }
    }
    form
}

/// The form of the shop as a new one stands, with some fields changed.
pub(crate) fn shop_fields<'a>(changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut form = vec![
        ("revision", "1"),
        ("name", "Bench"),
        ("zone", "UTC"),
        ("day0", "08:00-18:00"),
        ("exceptions", ""),
        ("hands", "1"),
        ("mixing", "hand"),
        ("mixing_min", "6 min"),
        ("pouring_min", "4 min"),
        ("buckets", "2 kg; 5 kg"),
        ("pot_bar", ""),
        ("vacuum_mbar", ""),
        ("humid_care", "70 %"),
        ("humid_stop", "85 %"),
        ("air", "constant"),
        ("steady_t", "20 °C"),
        ("steady_rh", "50 %"),
        ("units", "metric"),
    ];
    for (name, value) in changes {
        match form.iter_mut().find(|(n, _)| n == name) {
            Some(field) => field.1 = value,
            None => form.push((name, value)),
        }
    }
    form
}

/// Brings a drawing in, looks at it and takes what is proposed.
pub(crate) async fn bring(
    app: &TestApp,
    cast: CastId,
    place: &str,
    (name, bytes): (&str, &[u8]),
) -> Answer {
    let path = format!("/casts/{}/outlines", cast.0);
    let looked = upload(app, &path, &[("place", place)], ("outlines", name, bytes)).await;
    assert_eq!(looked.status, StatusCode::SEE_OTHER, "{}", looked.text);
    let to = looked.header("location").to_owned();
    let take = format!("{}/take", to.split('?').next().expect("an address"));
    let revision = app.open(cast).await.record.revision.to_string();
    post(app, &take, &[("revision", &revision), ("place", place)]).await
}

/// A form with a file in it, as a browser sends it.
pub(crate) async fn upload(
    app: &TestApp,
    path: &str,
    fields: &[(&str, &str)],
    (field, name, bytes): (&str, &str, &[u8]),
) -> Answer {
    let mark = "----a-mark-that-no-file-has";
    let mut body = Vec::new();
    for (name, value) in fields {
        let head = format!("--{mark}\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n");
        body.extend(head.bytes().chain(value.bytes()).chain(*b"\r\n"));
    }
    let head = format!(
        "--{mark}\r\nContent-Disposition: form-data; name=\"{field}\"; filename=\"{name}\"\r\n\
         Content-Type: application/octet-stream\r\n\r\n"
    );
    body.extend(head.bytes());
    body.extend_from_slice(bytes);
    body.extend(format!("\r\n--{mark}--\r\n").bytes());
    let request = Request::post(path)
        .header(header::CONTENT_TYPE, format!("multipart/form-data; boundary={mark}"))
        .header("Sec-Fetch-Site", "same-origin");
    send(app, request.body(Body::from(body)).expect("a request")).await
}
