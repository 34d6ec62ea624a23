//! One field of something that is kept beside the pieces, changed by somebody who saw what it was.
//!
//! Filaments and printers are changed field by field and not as whole rows, so that what one person changes does not undo
//! what another did meanwhile; and where both changed the same field, the second is told.

use super::Trouble;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;

/// A field that is to hold something else.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FieldChange {
    /// The field, with dots between the parts it lies in: `name`, `fits.snug`.
    pub field: String,
    /// What it held when it was seen.
    pub seen: Value,
    /// What it is to hold.
    pub value: Value,
}

/// Fields that are not for people.
const OWN: [&str; 2] = ["id", "source"];

impl FieldChange {
    /// Something as it stands now with the field changed.
    ///
    /// # Errors
    /// A field there is not, a value it cannot hold, or [`Trouble::Overtaken`] where it no longer holds what was seen.
    pub fn made_in<T: Serialize + DeserializeOwned>(&self, now: &T) -> Result<T, Trouble> {
        let Self { field, seen, value } = self;
        let mut all = serde_json::to_value(now).map_err(|_| self.misfit())?;
        let slot = all.pointer_mut(&format!("/{}", field.replace('.', "/")));
        let slot = slot.filter(|_| !field.split('.').next().is_some_and(|one| OWN.contains(&one)));
        let slot =
            slot.ok_or_else(|| Trouble::Bad(format!("There is no field “{field}” to change.")))?;
        if !is_same(slot, seen) && !is_same(slot, value) {
            return Err(Trouble::Overtaken(format!("“{field}”")));
        }
        *slot = value.clone();
        serde_json::from_value(all).map_err(|_| self.misfit())
    }

    fn misfit(&self) -> Trouble {
        Trouble::Bad(format!("“{}” cannot hold {}.", self.field, self.value))
    }
}

/// Whether two values are the same; of figures whether they are as large, however they are written.
fn is_same(one: &Value, other: &Value) -> bool {
    match (one, other) {
        (Value::Number(one), Value::Number(other)) => one.as_f64() == other.as_f64(),
        (Value::Array(one), Value::Array(other)) => {
            one.len() == other.len()
                && one.iter().zip(other).all(|(one, other)| is_same(one, other))
        }
        _ => one == other,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kalotype_core::piece::{FitSource, Printer};
    use kalotype_core::units::Length;
    use serde_json::json;

    fn change(field: &str, seen: Value, value: Value) -> FieldChange {
        FieldChange { field: field.to_owned(), seen, value }
    }

    #[test]
    fn two_people_change_two_fields_and_the_same_field_once() {
        let printer = Printer { name: "Quay".to_owned(), ..Printer::default() };
        let named = change("name", json!("Quay"), json!("Long quay"));
        let wider = change("bed.0", json!(printer.bed[0].as_mm()), json!(180));
        // Whichever comes first, both are kept.
        let one = wider.made_in(&named.made_in(&printer).unwrap()).unwrap();
        let other = named.made_in(&wider.made_in(&printer).unwrap()).unwrap();
        assert_eq!(one, other);
        assert_eq!((one.name.as_str(), one.bed[0]), ("Long quay", Length::mm(180.0)));
        // A second person who saw the old name is told; the same change twice is one.
        let late = change("name", json!("Quay"), json!("Short quay"));
        assert!(matches!(late.made_in(&one), Err(Trouble::Overtaken(_))));
        assert_eq!(named.made_in(&one).unwrap(), one);
    }

    #[test]
    fn what_is_no_field_or_no_value_of_it_is_refused_in_words() {
        let source = FitSource::Measured("2026-12-02".to_owned());
        let printer = Printer { source, ..Printer::default() };
        for (field, value) in [
            ("source.measured", json!("2020-01-01")),
            ("id", json!("x")),
            ("source", json!("typed")),
            ("", json!(1)),
            ("fits.none", json!(1)),
            ("fits.snug", json!("wide")),
            ("bed", json!([1, 2])),
            ("name", json!(7)),
        ] {
            let said = change(field, Value::Null, value.clone());
            let seen = serde_json::to_value(&printer).unwrap();
            let seen = seen.pointer(&format!("/{}", field.replace('.', "/"))).cloned();
            let said = FieldChange { seen: seen.unwrap_or_default(), ..said };
            let Err(Trouble::Bad(message)) = said.made_in(&printer) else { panic!("{field}") };
            assert!(!message.contains("expected"), "{message}");
        }
    }
}
