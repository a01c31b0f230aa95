//! Names of enums in forms and addresses: those that they have in files.

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

/// The name of a value.
pub(crate) fn slug(value: impl Serialize) -> String {
    let json = serde_json::to_value(value).unwrap_or_default();
    json.as_str().unwrap_or_default().to_owned()
}

/// The value of a name; `None` where there is none of that name.
pub(crate) fn named<T: DeserializeOwned>(slug: &str) -> Option<T> {
    serde_json::from_value(Value::from(slug)).ok()
}

#[cfg(test)]
mod tests {
    use fondant_record::fault::FaultKind;

    use super::*;

    #[test]
    fn names_lead_back_to_what_they_name() {
        for kind in FaultKind::ALL {
            assert_eq!(named(&slug(kind)), Some(kind));
        }
        assert_eq!(slug(FaultKind::SoftPlaces), "soft_places");
        assert_eq!(named::<FaultKind>("nonsense"), None);
    }
}
