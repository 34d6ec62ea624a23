//! JSON as it was written, and the one way by which documents and edits are read from it.
//!
//! A type that is read is compiled once for every source it is read from, and a piece consists of some
//! eighty of them. Files, documents of earlier versions, fields that are set one at a time and requests
//! therefore all become a [`Node`] first, and the types are read from that alone. Unlike the library's
//! own tree of values a node keeps fields in their order and those that are there twice, and what does
//! not fit is told with its path ([`Misfit`]).

use serde::de::value::StrDeserializer;
use serde::de::{
    self, DeserializeOwned, DeserializeSeed, Deserializer, EnumAccess, Expected, IntoDeserializer,
    MapAccess, SeqAccess, Unexpected, VariantAccess, Visitor,
};
use serde::{Deserialize, forward_to_deserialize_any};
use serde_json::value::RawValue;
use serde_json::{Map, Number, Value};
use std::collections::HashMap;
use std::fmt;

/// A piece of JSON.
#[derive(Debug, Clone, PartialEq)]
pub enum Node {
    /// `null`.
    Null,
    /// `true` or `false`.
    Truth(bool),
    /// A number.
    Number(Number),
    /// A text.
    Text(String),
    /// A list.
    List(Vec<Node>),
    /// Fields in the order they were written in. A name may be there twice.
    Fields(Vec<(String, Node)>),
}

impl Node {
    /// Takes a text apart.
    ///
    /// # Errors
    /// Where the text is no JSON.
    pub fn parse(text: &[u8]) -> serde_json::Result<Self> {
        serde_json::from_slice(text)
    }

    /// What a field holds, if there is one of that name.
    pub fn field(&self, name: &str) -> Option<&Node> {
        let Node::Fields(fields) = self else { return None };
        fields.iter().find(|(own, _)| own == name).map(|(_, node)| node)
    }

    /// Reads something from it.
    ///
    /// # Errors
    /// [`Misfit`] with what does not fit, and where.
    pub fn read<T: DeserializeOwned>(self) -> Result<T, Misfit> {
        T::deserialize(self)
    }

    /// That this is not what belongs here.
    fn unlike(&self, expected: &dyn Expected) -> Misfit {
        let found = match self {
            Node::Null => Unexpected::Unit,
            Node::Truth(truth) => Unexpected::Bool(*truth),
            Node::Number(number) => match (number.as_u64(), number.as_i64()) {
                (Some(whole), _) => Unexpected::Unsigned(whole),
                (None, Some(whole)) => Unexpected::Signed(whole),
                (None, None) => Unexpected::Float(number.as_f64().unwrap_or(f64::NAN)),
            },
            Node::Text(text) => Unexpected::Str(text),
            Node::List(_) => Unexpected::Seq,
            Node::Fields(_) => Unexpected::Map,
        };
        de::Error::invalid_type(found, expected)
    }
}

impl From<Value> for Node {
    fn from(value: Value) -> Self {
        match value {
            Value::Null => Node::Null,
            Value::Bool(truth) => Node::Truth(truth),
            Value::Number(number) => Node::Number(number),
            Value::String(text) => Node::Text(text),
            Value::Array(items) => Node::List(items.into_iter().map(Node::from).collect()),
            Value::Object(fields) => {
                Node::Fields(fields.into_iter().map(|(name, value)| (name, value.into())).collect())
            }
        }
    }
}

/// The library's own tree of values has no room for a field that is there twice.
impl TryFrom<Node> for Value {
    type Error = Misfit;

    fn try_from(node: Node) -> Result<Self, Misfit> {
        Ok(match node {
            Node::Null => Value::Null,
            Node::Truth(truth) => Value::Bool(truth),
            Node::Number(number) => Value::Number(number),
            Node::Text(text) => Value::String(text),
            Node::List(items) => {
                let value = |(i, item): (usize, Node)| {
                    Value::try_from(item).map_err(|misfit: Misfit| misfit.inside(Step::Item(i)))
                };
                Value::Array(items.into_iter().enumerate().map(value).collect::<Result<_, _>>()?)
            }
            Node::Fields(fields) => {
                let mut object = Map::new();
                for (name, node) in fields {
                    let inside = |misfit: Misfit| misfit.inside(Step::Field(name.clone()));
                    if object.contains_key(&name) {
                        let twice: Misfit =
                            de::Error::custom(format_args!("duplicate field `{name}`"));
                        return Err(inside(twice));
                    }
                    let value = Value::try_from(node).map_err(inside)?;
                    object.insert(name, value);
                }
                Value::Object(object)
            }
        })
    }
}

impl<'de> Deserialize<'de> for Node {
    fn deserialize<D: Deserializer<'de>>(source: D) -> Result<Self, D::Error> {
        source.deserialize_any(Anything)
    }
}

struct Anything;

impl<'de> Visitor<'de> for Anything {
    type Value = Node;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("JSON")
    }

    fn visit_unit<E>(self) -> Result<Node, E> {
        Ok(Node::Null)
    }

    fn visit_bool<E>(self, truth: bool) -> Result<Node, E> {
        Ok(Node::Truth(truth))
    }

    fn visit_u64<E>(self, whole: u64) -> Result<Node, E> {
        Ok(Node::Number(whole.into()))
    }

    fn visit_i64<E>(self, whole: i64) -> Result<Node, E> {
        Ok(Node::Number(whole.into()))
    }

    /// JSON has no word for what is not finite, so that none comes from it.
    fn visit_f64<E>(self, number: f64) -> Result<Node, E> {
        Ok(Number::from_f64(number).map_or(Node::Null, Node::Number))
    }

    fn visit_str<E>(self, text: &str) -> Result<Node, E> {
        Ok(Node::Text(text.to_owned()))
    }

    fn visit_string<E>(self, text: String) -> Result<Node, E> {
        Ok(Node::Text(text))
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut items: A) -> Result<Node, A::Error> {
        let mut list = Vec::new();
        while let Some(item) = items.next_element()? {
            list.push(item);
        }
        Ok(Node::List(list))
    }

    fn visit_map<A: MapAccess<'de>>(self, mut entries: A) -> Result<Node, A::Error> {
        let mut fields = Vec::new();
        while let Some(entry) = entries.next_entry()? {
            fields.push(entry);
        }
        Ok(Node::Fields(fields))
    }
}

/// A step into JSON.
#[derive(Debug, Clone, PartialEq, Eq)]
enum Step {
    Field(String),
    Item(usize),
}

/// What does not fit what is read, and where.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Misfit {
    message: String,
    /// The way there, from the inside out.
    steps: Vec<Step>,
}

impl Misfit {
    /// What is wrong, in the words of the library that reads: `missing field `id``.
    pub fn message(&self) -> &str {
        &self.message
    }

    /// Where, for example `components[0].blank.plate.width`; empty for the whole.
    pub fn path(&self) -> String {
        self.steps.iter().rev().fold(String::new(), |path, step| match step {
            Step::Item(i) => format!("{path}[{i}]"),
            Step::Field(name) if path.is_empty() => name.clone(),
            Step::Field(name) => format!("{path}.{name}"),
        })
    }

    /// The line of the text it was read from, beginning with 1, in which that stands.
    pub fn line_in(&self, text: &str) -> Option<usize> {
        let mut at: &RawValue = serde_json::from_str(text).ok()?;
        for step in self.steps.iter().rev() {
            at = match step {
                Step::Field(name) => {
                    *serde_json::from_str::<HashMap<String, &RawValue>>(at.get()).ok()?.get(name)?
                }
                Step::Item(i) => *serde_json::from_str::<Vec<&RawValue>>(at.get()).ok()?.get(*i)?,
            };
        }
        let before = at.get().as_ptr() as usize - text.as_ptr() as usize;
        Some(1 + text.as_bytes()[..before].iter().filter(|byte| **byte == b'\n').count())
    }

    fn inside(mut self, step: Step) -> Self {
        self.steps.push(step);
        self
    }
}

impl fmt::Display for Misfit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.path() {
            path if path.is_empty() => f.write_str(&self.message),
            path => write!(f, "{path}: {}", self.message),
        }
    }
}

impl std::error::Error for Misfit {}

impl de::Error for Misfit {
    fn custom<T: fmt::Display>(message: T) -> Self {
        Misfit { message: message.to_string(), steps: Vec::new() }
    }

    /// `null` by its name in JSON.
    fn invalid_type(found: Unexpected<'_>, expected: &dyn Expected) -> Self {
        match found {
            Unexpected::Unit => {
                Self::custom(format_args!("invalid type: null, expected {expected}"))
            }
            found => Self::custom(format_args!("invalid type: {found}, expected {expected}")),
        }
    }
}

/// Lists, fields and kinds are read by code of their own, which the compiler would otherwise copy into each of
/// the few lines on the way to it, five times for every type.
impl<'de> Deserializer<'de> for Node {
    type Error = Misfit;

    fn deserialize_any<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Misfit> {
        match self {
            Node::Null => visitor.visit_unit(),
            Node::Truth(truth) => visitor.visit_bool(truth),
            Node::Number(number) => match (number.as_u64(), number.as_i64()) {
                (Some(whole), _) => visitor.visit_u64(whole),
                (None, Some(whole)) => visitor.visit_i64(whole),
                (None, None) => visitor.visit_f64(number.as_f64().unwrap_or(f64::NAN)),
            },
            Node::Text(text) => visitor.visit_string(text),
            list @ Node::List(_) => list.deserialize_seq(visitor),
            fields @ Node::Fields(_) => fields.deserialize_map(visitor),
        }
    }

    #[inline(never)]
    fn deserialize_seq<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Misfit> {
        let Node::List(items) = self else { return Err(self.unlike(&visitor)) };
        let length = items.len();
        let mut left = Items { items: items.into_iter().enumerate() };
        let read = visitor.visit_seq(&mut left)?;
        match left.items.len() {
            0 => Ok(read),
            _ => Err(de::Error::invalid_length(length, &"fewer items in the list")),
        }
    }

    #[inline(never)]
    fn deserialize_map<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Misfit> {
        let Node::Fields(fields) = self else { return Err(self.unlike(&visitor)) };
        let mut left = Entries { fields: fields.into_iter(), begun: None };
        visitor.visit_map(&mut left).map_err(|misfit| left.named(misfit))
    }

    /// A list is never taken for the fields in their order.
    fn deserialize_struct<V: Visitor<'de>>(
        self,
        _: &'static str,
        _: &'static [&'static str],
        visitor: V,
    ) -> Result<V::Value, Misfit> {
        self.deserialize_map(visitor)
    }

    fn deserialize_tuple<V: Visitor<'de>>(self, _: usize, visitor: V) -> Result<V::Value, Misfit> {
        self.deserialize_seq(visitor)
    }

    fn deserialize_option<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Misfit> {
        match self {
            Node::Null => visitor.visit_none(),
            some => visitor.visit_some(some),
        }
    }

    fn deserialize_newtype_struct<V: Visitor<'de>>(
        self,
        _: &'static str,
        visitor: V,
    ) -> Result<V::Value, Misfit> {
        visitor.visit_newtype_struct(self)
    }

    /// A word, or one field of that name with what belongs to it.
    #[inline(never)]
    fn deserialize_enum<V: Visitor<'de>>(
        self,
        _: &'static str,
        _: &'static [&'static str],
        visitor: V,
    ) -> Result<V::Value, Misfit> {
        let choice = match self {
            Node::Text(word) => Choice { word, with: None },
            Node::Fields(fields) => match <[_; 1]>::try_from(fields) {
                Ok([(word, with)]) => Choice { word, with: Some(with) },
                Err(_) => {
                    return Err(de::Error::invalid_value(
                        Unexpected::Map,
                        &"map with a single key",
                    ));
                }
            },
            other => return Err(other.unlike(&"string or map")),
        };
        visitor.visit_enum(choice)
    }

    fn deserialize_ignored_any<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Misfit> {
        visitor.visit_unit()
    }

    forward_to_deserialize_any! {
        bool i8 i16 i32 i64 i128 u8 u16 u32 u64 u128 f32 f64 char str string bytes byte_buf unit
        unit_struct tuple_struct identifier
    }
}

/// The items of a list that are not read yet.
struct Items {
    items: std::iter::Enumerate<std::vec::IntoIter<Node>>,
}

impl<'de> SeqAccess<'de> for &mut Items {
    type Error = Misfit;

    fn next_element_seed<T: DeserializeSeed<'de>>(
        &mut self,
        seed: T,
    ) -> Result<Option<T::Value>, Misfit> {
        let Some((i, item)) = self.items.next() else { return Ok(None) };
        seed.deserialize(item).map(Some).map_err(|misfit| misfit.inside(Step::Item(i)))
    }

    fn size_hint(&self) -> Option<usize> {
        Some(self.items.len())
    }
}

/// The fields that are not read yet, and one whose name has been read.
struct Entries {
    fields: std::vec::IntoIter<(String, Node)>,
    begun: Option<(String, Node)>,
}

impl Entries {
    /// What is wrong once a name has been read, and before what it holds is, is wrong with that name.
    fn named(&mut self, misfit: Misfit) -> Misfit {
        match self.begun.take() {
            Some((name, _)) => misfit.inside(Step::Field(name)),
            None => misfit,
        }
    }
}

impl<'de> MapAccess<'de> for &mut Entries {
    type Error = Misfit;

    fn next_key_seed<K: DeserializeSeed<'de>>(
        &mut self,
        seed: K,
    ) -> Result<Option<K::Value>, Misfit> {
        self.begun = self.fields.next();
        let Some((name, _)) = &self.begun else { return Ok(None) };
        let name: StrDeserializer<'_, Misfit> = name.as_str().into_deserializer();
        seed.deserialize(name).map(Some)
    }

    fn next_value_seed<S: DeserializeSeed<'de>>(&mut self, seed: S) -> Result<S::Value, Misfit> {
        let Some((name, node)) = self.begun.take() else {
            return Err(de::Error::custom("a field without a name"));
        };
        seed.deserialize(node).map_err(|misfit| misfit.inside(Step::Field(name)))
    }

    fn size_hint(&self) -> Option<usize> {
        Some(self.fields.len())
    }
}

/// One of several kinds by its word, and what belongs to it.
struct Choice {
    word: String,
    with: Option<Node>,
}

impl<'de> EnumAccess<'de> for Choice {
    type Error = Misfit;
    type Variant = Self;

    fn variant_seed<S: DeserializeSeed<'de>>(self, seed: S) -> Result<(S::Value, Self), Misfit> {
        let word: StrDeserializer<'_, Misfit> = self.word.as_str().into_deserializer();
        Ok((seed.deserialize(word)?, self))
    }
}

impl Choice {
    /// What belongs to the word, which is looked for in it.
    fn with(
        self,
        expected: &dyn Expected,
    ) -> Result<(Node, impl FnOnce(Misfit) -> Misfit), Misfit> {
        let word = self.word;
        match self.with {
            Some(node) => Ok((node, |misfit: Misfit| misfit.inside(Step::Field(word)))),
            None => Err(de::Error::invalid_type(Unexpected::UnitVariant, expected)),
        }
    }
}

impl<'de> VariantAccess<'de> for Choice {
    type Error = Misfit;

    fn unit_variant(self) -> Result<(), Misfit> {
        match self.with {
            None | Some(Node::Null) => Ok(()),
            Some(node) => Err(node.unlike(&"unit variant").inside(Step::Field(self.word))),
        }
    }

    fn newtype_variant_seed<S: DeserializeSeed<'de>>(self, seed: S) -> Result<S::Value, Misfit> {
        let (node, inside) = self.with(&"newtype variant")?;
        seed.deserialize(node).map_err(inside)
    }

    fn tuple_variant<V: Visitor<'de>>(self, _: usize, visitor: V) -> Result<V::Value, Misfit> {
        let (node, inside) = self.with(&"tuple variant")?;
        node.deserialize_seq(visitor).map_err(inside)
    }

    fn struct_variant<V: Visitor<'de>>(
        self,
        _: &'static [&'static str],
        visitor: V,
    ) -> Result<V::Value, Misfit> {
        let (node, inside) = self.with(&"struct variant")?;
        node.deserialize_map(visitor).map_err(inside)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde::Serialize;
    use std::collections::BTreeMap;

    #[derive(Debug, PartialEq, Serialize, Deserialize)]
    #[serde(rename_all = "kebab-case", deny_unknown_fields)]
    enum Shape {
        Round,
        Rectangle([f64; 2]),
        Polygon { sides: u8, turn: Option<f32> },
        Named(String, i64),
        Held(Box<Shape>),
    }

    #[derive(Debug, PartialEq, Serialize, Deserialize)]
    #[serde(deny_unknown_fields)]
    struct Stamp {
        shape: Shape,
        all: Vec<Shape>,
        #[serde(default)]
        notes: BTreeMap<String, Value>,
        on: bool,
    }

    const STAMP: &str = r#"{
        "all": [
            "round",
            { "rectangle": [2, 3.5] },
            { "held": { "polygon": { "turn": null, "sides": 6 } } },
            { "named": ["ĝ", -9007199254740993] },
            { "round": null }
        ],
        "on": true,
        "notes": { "a": [null, false, { "b": 1e300 }], "ß": "x" },
        "shape": { "polygon": { "sides": 7, "turn": 0.1 } }
    }"#;

    /// The other reader is `serde_json` 1.
    #[test]
    fn it_reads_what_the_library_reads() {
        let by_node: Stamp = Node::parse(STAMP.as_bytes()).unwrap().read().unwrap();
        assert_eq!(by_node, serde_json::from_str(STAMP).unwrap());
        let by_value: Value = serde_json::from_str(STAMP).unwrap();
        assert_eq!(Node::from(by_value.clone()).read::<Stamp>().unwrap(), by_node);
        assert_eq!(Node::parse(STAMP.as_bytes()).unwrap().read::<Value>().unwrap(), by_value);
        for text in ["", "{", "[1,]", "nul", "{\"a\": NaN}", "1e999", "\"\\ud800\"", "[1] 2"] {
            assert!(Node::parse(text.as_bytes()).is_err(), "{text}");
        }
        let deep = "[".repeat(100_000);
        assert!(Node::parse(deep.as_bytes()).is_err());
    }

    #[test]
    fn what_does_not_fit_is_told_with_its_path_and_line() {
        let told = |from: &str, to: &str| {
            assert!(STAMP.contains(from), "{from}");
            let text = STAMP.replacen(from, to, 1);
            let misfit = Node::parse(text.as_bytes()).unwrap().read::<Stamp>().unwrap_err();
            let line = misfit.line_in(&text).unwrap();
            let message = misfit.message().replace('`', "'");
            format!("{}, line {line}: {message}", misfit.path())
        };
        let round = "\"round\",";
        let all = [
            told("3.5]", "\"3\"]"),
            told("3.5]", "3.5, 4]"),
            told(", 3.5", ""),
            told("6 }", "600 }"),
            told("6 }", "6, \"side\": 1 }"),
            told("6 }", "6, \"sides\": 6 }"),
            told(round, "\"square\","),
            told(round, "\"held\","),
            told(round, "{ \"round\": 4 },"),
            told(round, "{ \"round\": null, \"held\": 1 },"),
            told(round, "7,"),
            told("true", "null"),
            told("\"on\": true,", ""),
            told("\"sides\": 7, \"turn\": 0.1", "\"turn\": 1"),
        ];
        insta::assert_snapshot!(all.join("\n"), @r#"
        all[1].rectangle[1], line 4: invalid type: string "3", expected f64
        all[1].rectangle, line 4: invalid length 3, expected fewer items in the list
        all[1].rectangle, line 4: invalid length 1, expected an array of length 2
        all[2].held.polygon.sides, line 5: invalid value: integer '600', expected u8
        all[2].held.polygon.side, line 5: unknown field 'side', expected 'sides' or 'turn'
        all[2].held.polygon.sides, line 5: duplicate field 'sides'
        all[0], line 3: unknown variant 'square', expected one of 'round', 'rectangle', 'polygon', 'named', 'held'
        all[0], line 3: invalid type: unit variant, expected newtype variant
        all[0].round, line 3: invalid type: integer '4', expected unit variant
        all[0], line 3: invalid value: map, expected map with a single key
        all[0], line 3: invalid type: integer '7', expected string or map
        on, line 9: invalid type: null, expected a boolean
        , line 1: missing field 'on'
        shape.polygon, line 11: missing field 'sides'
        "#);
    }

    #[test]
    fn what_the_library_takes_silently_is_refused() {
        // The library takes a list for the fields in their order.
        let list = r#"["round", [], {}, true]"#;
        assert!(serde_json::from_str::<Stamp>(list).is_ok());
        let refused = Node::parse(list.as_bytes()).unwrap().read::<Stamp>().unwrap_err();
        assert_eq!(refused.to_string(), "invalid type: sequence, expected struct Stamp");
        let twice = Node::parse(br#"{ "a": [0, { "b": 1, "b": 2 }] }"#).unwrap();
        let refused = Value::try_from(twice).unwrap_err();
        assert_eq!(refused.to_string(), "a[1].b: duplicate field `b`");
        let whole = Node::parse(STAMP.as_bytes()).unwrap();
        assert_eq!(Value::try_from(whole).unwrap(), serde_json::from_str::<Value>(STAMP).unwrap());
    }
}
