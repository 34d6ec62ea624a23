//! The model part: its elements read one after the other and held to the specification. Elements and
//! attributes of other namespaces are passed over, unless the model says it cannot do without them.

use super::super::{MAX_TRIANGLES, MeshFileError};
use super::xml::{Attributes, figure};
use super::{CORE, quoted, refuse};
use crate::filament::Rgb;
use crate::solid::Mesh;
use quick_xml::NsReader;
use quick_xml::events::{BytesStart, Event};
use quick_xml::name::ResolveResult;
use std::collections::{HashMap, HashSet};

/// A transform as the specification writes it: three rows of a matrix and a row of a vector, which
/// a point, as a row, is multiplied by from the left (section 3.3).
pub(super) type Transform = [f64; 12];

pub(super) const UNMOVED: Transform = [1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0];

/// A model as it was read: every object, property and transform in it can be relied on.
#[derive(Default)]
pub(super) struct Model {
    /// The unit it states, as the specification calls it.
    pub unit: String,
    /// Millimetres to one of its figures.
    pub millimetres: f64,
    pub objects: HashMap<u32, Object>,
    /// What its build puts down, and where.
    pub build: Vec<(u32, Transform)>,
    /// What is against the rules but does no harm, a sentence each.
    pub remarks: Vec<String>,
}

#[derive(Default)]
pub(super) struct Object {
    pub name: String,
    pub kind: ObjectKind,
    pub colour: Option<Rgb>,
    pub mesh: Mesh,
    pub components: Vec<(u32, Transform)>,
}

/// What an object is for (ST_ObjectType).
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub(super) enum ObjectKind {
    /// Part of the thing.
    #[default]
    Model,
    /// Held up while it is printed, no part of the thing.
    Support,
    /// Only to be a component of others.
    Other,
}

/// The elements of the core namespace.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Tag {
    Document,
    Model,
    Metadata,
    Resources,
    BaseMaterials,
    Base,
    Object,
    MetadataGroup,
    OwnMetadata,
    Mesh,
    Vertices,
    Vertex,
    Triangles,
    Triangle,
    Components,
    Component,
    Build,
    Item,
}

/// What may stand in what, and whether more than once (appendix B.1, the schema).
const GRAMMAR: [(Tag, &str, Tag, bool); 18] = [
    (Tag::Vertices, "vertex", Tag::Vertex, true),
    (Tag::Triangles, "triangle", Tag::Triangle, true),
    (Tag::Components, "component", Tag::Component, true),
    (Tag::Document, "model", Tag::Model, false),
    (Tag::Model, "metadata", Tag::Metadata, true),
    (Tag::Model, "resources", Tag::Resources, false),
    (Tag::Model, "build", Tag::Build, false),
    (Tag::Resources, "basematerials", Tag::BaseMaterials, true),
    (Tag::Resources, "object", Tag::Object, true),
    (Tag::BaseMaterials, "base", Tag::Base, true),
    (Tag::Object, "metadatagroup", Tag::MetadataGroup, false),
    (Tag::Object, "mesh", Tag::Mesh, false),
    (Tag::Object, "components", Tag::Components, false),
    (Tag::Mesh, "vertices", Tag::Vertices, false),
    (Tag::Mesh, "triangles", Tag::Triangles, false),
    (Tag::Build, "item", Tag::Item, true),
    (Tag::Item, "metadatagroup", Tag::MetadataGroup, false),
    (Tag::MetadataGroup, "metadata", Tag::OwnMetadata, true),
];

/// Names of metadata that need no namespace (section 3.4.1).
const KNOWN_METADATA: [&str; 9] = [
    "Title",
    "Designer",
    "Description",
    "Copyright",
    "LicenseTerms",
    "Rating",
    "CreationDate",
    "ModificationDate",
    "Application",
];

/// The most remarks that are made on a file.
const MOST_REMARKS: usize = 20;

/// Reads a model part.
pub(super) fn parse(xml: &str) -> Result<Model, MeshFileError> {
    let mut reader = NsReader::from_str(xml);
    reader.config_mut().expand_empty_elements = true;
    let mut reading = Reading { open: vec![Open::of(Tag::Document)], ..Reading::default() };
    loop {
        let (namespace, event) = match reader.read_resolved_event() {
            Ok((namespace, event)) => (namespace_of(namespace)?, event),
            Err(error) => {
                return Err(refuse(format!("at byte {}: {error}", reader.error_position())));
            }
        };
        match event {
            Event::Eof => return reading.end_of_file(),
            Event::DocType(_) => return Err(refuse("its model has a DTD, which 3MF forbids")),
            Event::Decl(declaration) => {
                let stated = declaration.encoding().and_then(Result::ok).unwrap_or_default();
                if !["", "utf-8", "utf-16"].contains(&stated.to_lowercase().as_str()) {
                    let stated = quoted(&stated);
                    return Err(refuse(format!("it is written in {stated}, which 3MF forbids")));
                }
            }
            Event::Start(tag) => match namespace {
                Namespace::Core => reading.begin(&tag)?,
                Namespace::Other => {
                    reading.pass_over(&tag)?;
                    reader.read_to_end(tag.name()).map_err(|error| refuse(error.to_string()))?;
                }
                Namespace::None => {
                    let name = quoted(tag.local_name().into_inner());
                    return Err(refuse(format!("the element {name} is in no namespace of 3MF")));
                }
            },
            Event::End(_) => reading.end()?,
            _ => {}
        }
    }
}

/// Whose an element is.
enum Namespace {
    Core,
    Other,
    None,
}

fn namespace_of(found: ResolveResult<'_>) -> Result<Namespace, MeshFileError> {
    match found {
        ResolveResult::Bound(namespace) if namespace.into_inner() == CORE => Ok(Namespace::Core),
        ResolveResult::Bound(_) => Ok(Namespace::Other),
        ResolveResult::Unbound => Ok(Namespace::None),
        ResolveResult::Unknown(prefix) => {
            Err(refuse(format!("the prefix {} stands for nothing", quoted(&prefix))))
        }
    }
}

/// An element that is not closed yet.
#[derive(Clone, Copy)]
struct Open {
    tag: Tag,
    /// Which of [`GRAMMAR`] stood in it already.
    seen: u32,
}

impl Open {
    fn of(tag: Tag) -> Self {
        Open { tag, seen: 0 }
    }
}

/// What properties can be taken from.
enum Properties {
    /// Base materials, as colours.
    Base(Vec<Rgb>),
    /// Those of an extension, which are not read.
    Unread,
}

/// A model on the way.
#[derive(Default)]
struct Reading {
    model: Model,
    open: Vec<Open>,
    properties: HashMap<u32, Properties>,
    /// The group of base materials that is open.
    group: u32,
    object: Option<(u32, Object)>,
    /// The properties of the object that is open, if it names any.
    object_properties: Option<u32>,
    prefixes: HashSet<String>,
    metadata: HashSet<String>,
    triangles: usize,
}

impl Reading {
    fn remark(&mut self, sentence: String) {
        let remarks = &mut self.model.remarks;
        if remarks.len() < MOST_REMARKS && !remarks.contains(&sentence) {
            remarks.push(sentence);
        }
    }

    /// An element of the core begins.
    fn begin(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let name = tag.local_name().into_inner();
        let parent = self.open.last_mut().expect("the document is open");
        let known =
            GRAMMAR.iter().position(|(inside, own, ..)| *inside == parent.tag && *own == name);
        let Some(rule) = known else {
            let shown = quoted(name);
            return Err(refuse(format!("the element {shown} has no place where it stands")));
        };
        let (.., kind, is_often) = GRAMMAR[rule];
        if !is_often && parent.seen & (1 << rule) != 0 {
            return Err(refuse(format!("there are two elements “{name}” where one may stand")));
        }
        parent.seen |= 1 << rule;
        self.open.push(Open::of(kind));
        match kind {
            Tag::Model => self.begin_model(tag),
            Tag::Metadata => self.take_metadata(tag),
            Tag::BaseMaterials => self.begin_materials(tag),
            Tag::Base => self.take_base(tag),
            Tag::Object => self.begin_object(tag),
            Tag::Vertex => self.take_vertex(tag),
            Tag::Triangle => self.take_triangle(tag),
            Tag::Component => {
                let placed = self.placed(tag)?;
                self.open_object().components.push(placed);
                Ok(())
            }
            Tag::Item => {
                let (id, transform) = self.placed(tag)?;
                if self.model.objects[&id].kind == ObjectKind::Other {
                    return Err(refuse(format!("object {id} is of a type that is never built")));
                }
                self.model.build.push((id, transform));
                Ok(())
            }
            _ => {
                let unknown = Attributes::of(tag, [])?.unknown;
                self.remark_on_unknown(name, unknown);
                Ok(())
            }
        }
    }

    /// An element of another namespace is not read. As a resource it takes its id.
    fn pass_over(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        match self.open.last().map(|open| open.tag) {
            Some(Tag::Document) => {
                Err(refuse("its model is not in the namespace of the 3MF core specification"))
            }
            Some(Tag::Resources) => match Attributes::of(tag, ["id"])?.id(0)? {
                Some(id) => self.take_id(id, Properties::Unread),
                None => Ok(()),
            },
            _ => Ok(()),
        }
    }

    /// An element ends.
    fn end(&mut self) -> Result<(), MeshFileError> {
        let Some(Open { tag: Tag::Object, seen }) = self.open.pop() else { return Ok(()) };
        let (id, object) = self.object.take().expect("an object is open");
        let has = |kind: Tag| {
            let stood =
                |(rule, row): (usize, &(_, _, Tag, _))| row.2 == kind && seen & (1 << rule) != 0;
            GRAMMAR.iter().enumerate().any(stood)
        };
        match (has(Tag::Mesh), has(Tag::Components)) {
            (true, true) => Err(refuse(format!("object {id} is both a mesh and components"))),
            (false, false) => Err(refuse(format!("object {id} is neither a mesh nor components"))),
            (false, true) if self.object_properties.is_some() => {
                self.remark(format!("Object {id} is made of components and has a material too."));
                self.keep(id, object)
            }
            _ => self.keep(id, object),
        }
    }

    fn keep(&mut self, id: u32, object: Object) -> Result<(), MeshFileError> {
        let count = object.mesh.vertices.len();
        let outside = |corner: &u32| *corner as usize >= count;
        if object.mesh.triangles.iter().flatten().any(outside) {
            return Err(refuse(format!("object {id} names a vertex it lacks")));
        }
        self.model.objects.insert(id, object);
        Ok(())
    }

    fn end_of_file(self) -> Result<Model, MeshFileError> {
        let [document] = self.open[..] else { return Err(refuse("its model breaks off")) };
        if document.seen == 0 {
            return Err(refuse("there is no model in it"));
        }
        Ok(self.model)
    }

    /// The object that is open; elements that need one stand in it.
    fn open_object(&mut self) -> &mut Object {
        &mut self.object.as_mut().expect("an object is open").1
    }

    /// Ids are unique among all resources (section 3.4.2).
    fn take_id(&mut self, id: u32, properties: Properties) -> Result<(), MeshFileError> {
        let object = self.object.as_ref().is_some_and(|(open, _)| *open == id);
        if object || self.model.objects.contains_key(&id) || self.properties.contains_key(&id) {
            return Err(refuse(format!("there are two resources {id}")));
        }
        self.properties.insert(id, properties);
        Ok(())
    }

    fn begin_model(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let attributes =
            Attributes::of(tag, ["unit", "requiredextensions", "recommendedextensions"])?;
        let declared = tag.attributes().flatten().filter_map(|attribute| {
            let prefix = attribute.key.into_inner().strip_prefix("xmlns:")?;
            Some((prefix.to_owned(), attribute.value.into_owned()))
        });
        let declared: HashMap<String, String> = declared.collect();
        for prefix in attributes.words(1).unwrap_or_default().split_whitespace() {
            let namespace = declared.get(prefix).map_or(prefix, String::as_str);
            if namespace != CORE {
                return Err(refuse(format!(
                    "it cannot be read without the extension {}, which is not known here. Save it \
                     again as plain 3MF in the program it comes from",
                    quoted(namespace)
                )));
            }
        }
        self.prefixes = declared.into_keys().collect();
        let unit = attributes.words(0).unwrap_or("millimeter");
        self.model.millimetres = match unit {
            "micron" => 1e-3,
            "millimeter" => 1.0,
            "centimeter" => 10.0,
            "inch" => 25.4,
            "foot" => 304.8,
            "meter" => 1000.0,
            other => return Err(refuse(format!("there is no unit {} in 3MF", quoted(other)))),
        };
        self.model.unit = unit.to_owned();
        self.remark_on_unknown("model", attributes.unknown);
        Ok(())
    }

    fn remark_on_unknown(&mut self, element: &str, unknown: Option<&str>) {
        if let Some(name) = unknown {
            self.remark(format!("3MF knows no {} of a {element}; it was not read.", quoted(name)));
        }
    }

    /// What is said about a model does not change it, so that it is only remarked on.
    fn take_metadata(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let attributes = Attributes::of(tag, ["name", "preserve", "type"])?;
        let name = attributes.needed(0)?.to_owned();
        let is_known = match name.split_once(':') {
            Some((prefix, _)) => self.prefixes.contains(prefix),
            None => KNOWN_METADATA.contains(&name.as_str()),
        };
        if !is_known {
            self.remark(format!(
                "Its metadata {} have no namespace that is declared.",
                quoted(&name)
            ));
        }
        if !self.metadata.insert(name.clone()) {
            self.remark(format!("It has metadata {} twice.", quoted(&name)));
        }
        Ok(())
    }

    fn begin_materials(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        self.group = Attributes::of(tag, ["id"])?.needed_id(0)?;
        self.take_id(self.group, Properties::Base(Vec::new()))
    }

    fn take_base(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let attributes = Attributes::of(tag, ["name", "displaycolor"])?;
        attributes.needed(0)?;
        let text = attributes.needed(1)?;
        let colour = rgb(text).ok_or_else(|| {
            refuse(format!("{} is no colour (#RRGGBB or #RRGGBBAA)", quoted(text)))
        })?;
        if let Some(Properties::Base(colours)) = self.properties.get_mut(&self.group) {
            colours.push(colour);
        }
        Ok(())
    }

    /// The colour of a property, if it is one that is read. It must be there (section 4.1.4.1).
    fn property(&self, group: u32, index: u32) -> Result<Option<Rgb>, MeshFileError> {
        match self.properties.get(&group) {
            Some(Properties::Unread) => Ok(None),
            Some(Properties::Base(colours)) => {
                let missing =
                    || refuse(format!("there is no material {index} in the group {group}"));
                colours.get(index as usize).copied().map(Some).ok_or_else(missing)
            }
            None => Err(refuse(format!("there is no group of materials {group}"))),
        }
    }

    fn begin_object(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let names = ["id", "type", "name", "pid", "pindex", "partnumber", "thumbnail"];
        let attributes = Attributes::of(tag, names)?;
        let id = attributes.needed_id(0)?;
        let kind = match attributes.words(1).unwrap_or("model") {
            "model" | "surface" => ObjectKind::Model,
            "support" | "solidsupport" => ObjectKind::Support,
            "other" => ObjectKind::Other,
            unknown => {
                let unknown = quoted(unknown);
                return Err(refuse(format!("object {id} is of a type {unknown}, which 3MF lacks")));
            }
        };
        let colour = match (attributes.id(3)?, attributes.index(4)?) {
            (Some(group), Some(index)) => self.property(group, index)?,
            (None, Some(_)) => {
                return Err(refuse(format!("object {id} has a material (pindex) of no group")));
            }
            (Some(group), None) if !self.properties.contains_key(&group) => {
                return Err(refuse(format!("there is no group of materials {group}")));
            }
            (Some(group), None) => {
                self.remark(format!("Object {id} does not say which of the materials {group}."));
                None
            }
            (None, None) => None,
        };
        if self.model.objects.contains_key(&id) || self.properties.contains_key(&id) {
            return Err(refuse(format!("there are two resources {id}")));
        }
        self.object_properties = attributes.id(3)?;
        self.remark_on_unknown("object", attributes.unknown);
        let name = attributes.words(2).unwrap_or_default().to_owned();
        self.object = Some((id, Object { name, kind, colour, ..Object::default() }));
        Ok(())
    }

    fn take_vertex(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        let attributes = Attributes::of(tag, ["x", "y", "z"])?;
        let at = |axis| figure(attributes.needed(axis)?);
        let vertex = [at(0)?, at(1)?, at(2)?];
        self.open_object().mesh.vertices.push(vertex);
        self.remark_on_unknown("vertex", attributes.unknown);
        Ok(())
    }

    fn take_triangle(&mut self, tag: &BytesStart<'_>) -> Result<(), MeshFileError> {
        self.triangles += 1;
        if self.triangles > MAX_TRIANGLES {
            return Err(MeshFileError::TooMany);
        }
        let attributes = Attributes::of(tag, ["v1", "v2", "v3", "pid", "p1", "p2", "p3"])?;
        let corner = |slot| attributes.needed_index(slot);
        let corners @ [a, b, c] = [corner(0)?, corner(1)?, corner(2)?];
        if a == b || b == c || c == a {
            return Err(refuse("a triangle has one corner twice"));
        }
        let group = attributes.id(3)?.or(self.object_properties);
        for slot in 4..7 {
            match (attributes.index(slot)?, group) {
                (Some(index), Some(group)) => drop(self.property(group, index)?),
                (Some(_), None) => return Err(refuse("a triangle has a material of no group")),
                (None, _) => {}
            }
        }
        if let (Some(group), None) = (attributes.id(3)?, attributes.words(4)) {
            self.property(group, 0)?;
        }
        self.open_object().mesh.triangles.push(corners);
        self.remark_on_unknown("triangle", attributes.unknown);
        Ok(())
    }

    /// An object that was there before, and where it is put. What names an object comes after it
    /// (sections 3.4.3.1 and 4.2.1), so that nothing can lie in itself.
    fn placed(&mut self, tag: &BytesStart<'_>) -> Result<(u32, Transform), MeshFileError> {
        let attributes = Attributes::of(tag, ["objectid", "transform", "partnumber"])?;
        let id = attributes.needed_id(0)?;
        if !self.model.objects.contains_key(&id) {
            return Err(refuse(format!("there is no object {id} before it is named")));
        }
        self.remark_on_unknown("placed object", attributes.unknown);
        let Some(text) = attributes.words(1) else { return Ok((id, UNMOVED)) };
        let figures: Result<Vec<f64>, _> = text.split_whitespace().take(13).map(figure).collect();
        let transform: Transform =
            figures?.try_into().map_err(|_| refuse("a transform has twelve figures"))?;
        if determinant(&transform) == 0.0 {
            return Err(refuse(format!("the transform of object {id} leaves it no volume")));
        }
        Ok((id, transform))
    }
}

/// `#RRGGBB` or `#RRGGBBAA` (ST_ColorValue).
fn rgb(text: &str) -> Option<Rgb> {
    let alpha = text.get(7..).unwrap_or_default();
    let is_alpha = alpha.is_empty() || alpha.len() == 2 && u8::from_str_radix(alpha, 16).is_ok();
    let opaque = text.get(..7).filter(|_| is_alpha && !alpha.starts_with('+'))?;
    Rgb::try_from(opaque.to_owned()).ok()
}

/// How many times the volume of what is moved; negative where it is mirrored.
pub(super) fn determinant(t: &Transform) -> f64 {
    t[0] * (t[4] * t[8] - t[5] * t[7]) - t[1] * (t[3] * t[8] - t[5] * t[6])
        + t[2] * (t[3] * t[7] - t[4] * t[6])
}
