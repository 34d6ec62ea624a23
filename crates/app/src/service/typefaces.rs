//! The user's own typefaces.

use super::{Service, Trouble, Viewer};
use kalotype_core::lettering::{OWN_FACE, OpenedFont, TYPEFACES, open_font};
use kalotype_core::library::Library;
use kalotype_store::OwnTypeface;

impl Service {
    /// Opens a font file: its faces and its licence. Nothing is kept.
    ///
    /// # Errors
    /// Why it cannot be used.
    pub fn look_into_font(&self, file: &[u8]) -> Result<OpenedFont, Trouble> {
        open_font(file).map_err(|error| Trouble::Bad(error.to_string()))
    }

    /// Keeps a face of a font file, a variable one at a weight. The same request keeps one.
    ///
    /// # Errors
    /// Why it cannot be used, or what the store says.
    pub fn keep_typeface(
        &self,
        file: &[u8],
        name: &str,
        (index, weight): (u32, Option<f32>),
        viewer: &Viewer,
    ) -> Result<OwnTypeface, Trouble> {
        let font = self.look_into_font(file)?;
        let name: String = name.trim().chars().take(80).collect();
        if name.is_empty() {
            return Err(Trouble::Bad("Give the typeface a name.".to_owned()));
        }
        let kept = OwnTypeface {
            id: format!("{OWN_FACE}{}", uuid::Uuid::new_v4().simple()),
            name,
            font: font.alone(index).map_err(|error| Trouble::Bad(error.to_string()))?,
            face_index: 0,
            weight,
            licence: font.licence,
        };
        self.library.take_up(&kept).map_err(|error| Trouble::Bad(error.to_string()))?;
        let made = self.store().keep_typeface(&kept, viewer.request.as_deref());
        if !made.as_ref().is_ok_and(|made| *made == kept.id) {
            self.library.forget(&kept.id);
        }
        Ok(OwnTypeface { id: made?, ..kept })
    }

    /// Takes a typeface away; pieces set in it say so.
    ///
    /// # Errors
    /// Where there is none.
    pub fn drop_typeface(&self, id: &str) -> Result<(), Trouble> {
        self.store().drop_typeface(id)?;
        self.library.forget(id);
        Ok(())
    }

    /// All typefaces to choose from, the user's own first: ids and names.
    pub fn typeface_names(&self) -> Vec<(String, String)> {
        let own = self.library.typefaces();
        let all = own.iter().chain(TYPEFACES.iter());
        all.map(|typeface| (typeface.id.to_string(), typeface.name.to_string())).collect()
    }
}
