//! Carrying a change over to a document that has changed otherwise meanwhile.
//!
//! A three-way merge of the documents as JSON: where the document now has what the change started from,
//! it gets what the change led to; where it has something else, the change was overtaken. Lists of
//! things with ids (components, elements, filaments) are merged by their ids, so that what one person
//! does to one element leaves another's alone.

use crate::json::Node;
use crate::piece::Piece;
use serde_json::{Map, Value};
use thiserror::Error;

/// Somebody changed the same thing meanwhile.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("{0} was changed otherwise meanwhile")]
pub struct Overtaken(String);

/// The document `now` with the change that led from one document to another. Taking a step back is the
/// change from what it led to to what it began from.
///
/// # Errors
/// [`Overtaken`] where `now` has neither what the change started from nor what it led to, or where what
/// comes out is no piece.
pub fn carry_over(from: &Piece, to: &Piece, now: &Piece) -> Result<Piece, Overtaken> {
    if now == from {
        return Ok(to.clone());
    }
    let json = |piece: &Piece| serde_json::to_value(piece).unwrap_or_default();
    let merged = merged(Some(&json(from)), Some(&json(to)), Some(&json(now)), &Place::default())?;
    let whole = || Overtaken("The piece".to_owned());
    let piece: Piece = Node::from(merged.ok_or_else(whole)?).read().map_err(|_| whole())?;
    if piece.problems().is_empty() { Ok(piece) } else { Err(whole()) }
}

/// Where in the document, in words for a person: the nearest thing with an id.
#[derive(Debug, Clone, Default)]
struct Place {
    thing: String,
}

impl Place {
    fn of(&self, id: &str) -> Self {
        Place { thing: id.to_owned() }
    }

    fn overtaken(&self) -> Overtaken {
        let what = if self.thing.is_empty() { "The piece" } else { &self.thing };
        Overtaken(what.to_owned())
    }
}

/// A value, or nothing where there is none.
type Found<'a> = Option<&'a Value>;

fn merged(
    from: Found<'_>,
    to: Found<'_>,
    now: Found<'_>,
    place: &Place,
) -> Result<Option<Value>, Overtaken> {
    if from == to || now == to {
        return Ok(now.cloned());
    }
    if now == from {
        return Ok(to.cloned());
    }
    match (from, to, now) {
        (Some(Value::Object(from)), Some(Value::Object(to)), Some(Value::Object(now))) => {
            let mut names: Vec<&String> = now.keys().collect();
            names.extend(to.keys().filter(|name| !now.contains_key(*name)));
            let mut all = Map::new();
            for name in names {
                let value = merged(from.get(name), to.get(name), now.get(name), place)?;
                all.extend(value.map(|value| (name.clone(), value)));
            }
            Ok(Some(Value::Object(all)))
        }
        (Some(Value::Array(from)), Some(Value::Array(to)), Some(Value::Array(now))) => {
            let lists = [from, to, now].map(|list| by_id(list));
            match lists {
                [Some(from), Some(to), Some(now)] => {
                    Ok(Some(merged_list(&from, &to, &now, place)?))
                }
                _ => Err(place.overtaken()),
            }
        }
        _ => Err(place.overtaken()),
    }
}

/// The things of a list with their ids, where all of them have one.
fn by_id(list: &[Value]) -> Option<Vec<(&str, &Value)>> {
    list.iter().map(|thing| Some((thing.get("id")?.as_str()?, thing))).collect()
}

fn merged_list(
    from: &[(&str, &Value)],
    to: &[(&str, &Value)],
    now: &[(&str, &Value)],
    place: &Place,
) -> Result<Value, Overtaken> {
    let find = |list: &[(&str, &Value)], id: &str| -> Option<Value> {
        list.iter().find(|(known, _)| *known == id).map(|(_, thing)| (*thing).clone())
    };
    // What was changed and is not there any more cannot be changed.
    for (id, wanted) in to {
        let before = find(from, id);
        if find(now, id).is_none() && before.is_some_and(|before| before != **wanted) {
            return Err(place.of(id).overtaken());
        }
    }
    // The order of what is in all three: that of the document now, unless the change reordered it.
    let common = |list: &[(&str, &Value)]| -> Vec<String> {
        let in_all = |id: &str| [from, to, now].iter().all(|list| find(list, id).is_some());
        list.iter().filter(|(id, _)| in_all(id)).map(|(id, _)| (*id).to_owned()).collect()
    };
    let (was, wanted, is) = (common(from), common(to), common(now));
    if was != wanted && is != was && is != wanted {
        return Err(place.overtaken());
    }
    let mut ids: Vec<String> = now.iter().map(|(id, _)| (*id).to_owned()).collect();
    if was != wanted {
        let mut next = wanted.iter();
        for id in ids.iter_mut().filter(|id| is.contains(id)) {
            if let Some(wanted) = next.next() {
                id.clone_from(wanted);
            }
        }
    }
    // What the change added comes behind what stands before it there.
    for (i, (id, _)) in to.iter().enumerate() {
        if find(from, id).is_some() || ids.iter().any(|known| known == id) {
            continue;
        }
        let before = to[..i].iter().rev().find_map(|(id, _)| ids.iter().position(|one| one == id));
        ids.insert(before.map_or(0, |at| at + 1), (*id).to_owned());
    }
    let mut all = Vec::new();
    for id in ids {
        let [from, to, now] = [from, to, now].map(|list| find(list, &id));
        all.extend(merged(from.as_ref(), to.as_ref(), now.as_ref(), &place.of(&id))?);
    }
    Ok(Value::Array(all))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::{Edit, ElementKind};
    use crate::testing::{add, address, edited, fresh, set};
    use serde_json::json;

    fn fob() -> Piece {
        fresh(&[ElementKind::Hole, ElementKind::Lettering])
    }

    #[test]
    fn what_others_did_to_other_things_stays() {
        let before = fob();
        let after =
            edited(&before, &[set("hole-1", "diameter", json!(4.0)), add(ElementKind::Rim)]);
        let others = [
            set("lettering-1", "lines.0.words", json!("Åse")),
            set("blank", "width", json!(80.0)),
            add(ElementKind::Recess),
            Edit::Move { target: address("recess-1"), by: -2 },
        ];
        let now = edited(&after, &others);
        let back = carry_over(&after, &before, &now).unwrap();
        // The same as if only the others had done anything.
        let alone = edited(&before, &others[..2]);
        assert_eq!(back.element(&address("hole-1")), before.element(&address("hole-1")));
        assert_eq!(back.element(&address("lettering-1")), alone.element(&address("lettering-1")));
        assert!(back.element(&address("rim-1")).is_none());
        assert!(back.element(&address("recess-1")).is_some());
        assert_eq!(carry_over(&before, &after, &back).unwrap().first().elements.len(), 4);
        assert_eq!(carry_over(&after, &before, &after), Ok(before));
    }

    #[test]
    fn what_was_changed_again_is_not_taken_back() {
        let before = fob();
        let after = edited(&before, &[set("hole-1", "diameter", json!(4.0))]);
        let now = edited(&after, &[set("hole-1", "diameter", json!(3.0))]);
        let error = carry_over(&after, &before, &now).unwrap_err();
        assert_eq!(error.to_string(), "hole-1 was changed otherwise meanwhile");
        let removed = edited(&after, &[Edit::Remove { target: address("hole-1") }]);
        assert!(carry_over(&after, &before, &removed).is_err());
        // Added by one and changed by another: taking it back would take the other's work with it.
        let added = edited(&before, &[add(ElementKind::Rim)]);
        let changed = edited(&added, &[set("rim-1", "width", json!(1.0))]);
        assert!(carry_over(&added, &before, &changed).is_err());
    }
}
