//! Keys: of results, and of requests.

use fondant_app::{Key, Request};

#[test]
fn equal_values_have_equal_keys_and_others_do_not() {
    let key = |value: &(f64, &str)| Key::of(value).unwrap();
    assert_eq!(key(&(1.0, "a")), key(&(1.0, "a")));
    assert_ne!(key(&(1.0, "a")), key(&(1.000_000_000_1, "a")));
    assert_eq!(Key::read(key(&(1.0, "a")).as_str()), Some(key(&(1.0, "a"))));
    assert_eq!(Key::read("../../etc"), None);
}

#[test]
fn keys_of_requests_are_short_and_plain() {
    let key = Request::new_key().unwrap();
    assert_ne!(Request::keyed(Some(&key)), Request::default());
    assert_ne!(Request::new_key().unwrap(), key);
    for none in ["", "a b", "'; drop", &"a".repeat(65)] {
        assert_eq!(Request::keyed(Some(none)), Request::default(), "{none}");
    }
}
