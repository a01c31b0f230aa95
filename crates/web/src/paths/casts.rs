//! Addresses of casts and of what belongs to one.

use axum_extra::routing::TypedPath;
use fondant_app::records::{CastId, DrawingId, FaultId, PhotoId, RunId};
use fondant_shapes::picture::squaring::Squaring;
use serde::Deserialize;

use crate::ui::error::WebError;

/// Declares addresses by their fields and pattern.
macro_rules! paths {
    ($($(#[$doc:meta])+ $name:ident($pattern:literal) { $($field:ident: $type:ty),* })+) => {$(
        $(#[$doc])+
        #[derive(Debug, Clone, TypedPath, Deserialize)]
        #[typed_path($pattern, rejection(WebError))]
        pub(crate) struct $name {
            $(pub(crate) $field: $type),*
        }
    )+};
}

paths! {
    /// A cast: leads to its first station.
    Cast("/casts/{cast}") { cast: CastId }
    /// A cast given another name.
    RenameCast("/casts/{cast}/rename") { cast: CastId }
    /// A cast like another begun.
    CopyCast("/casts/{cast}/copy") { cast: CastId }
    /// A cast put away, deleted or brought back.
    KeepCast("/casts/{cast}/keep") { cast: CastId }
    /// A form of the shop booked for a cast, or let go.
    BookForm("/casts/{cast}/book") { cast: CastId }
    /// What to saw for the form.
    CutList("/casts/{cast}/cut-list") { cast: CastId }
    /// Labels to print.
    Labels("/casts/{cast}/labels") { cast: CastId }
    /// A file for other programs.
    Export("/casts/{cast}/export/{file}") { cast: CastId, file: String }
    /// The section's field of temperatures.
    Field("/casts/{cast}/field") { cast: CastId }
    /// Nobody waits for the field any more.
    AbandonField("/casts/{cast}/field/abandon") { cast: CastId }
    /// The deepest layer for every air and resin temperature.
    DepthMap("/casts/{cast}/depth-map") { cast: CastId }
    /// The plan on paper.
    PlanSheet("/casts/{cast}/plan") { cast: CastId }
    /// The pour plan as a table.
    PoursCsv("/casts/{cast}/pours.csv") { cast: CastId }
    /// What moving a pour would do.
    TryMove("/casts/{cast}/pours/try") { cast: CastId }
    /// Plans compared.
    Alternatives("/casts/{cast}/pours/alternatives") { cast: CastId }
    /// Changes that would help.
    Offers("/casts/{cast}/pours/offers") { cast: CastId }
    /// A pour moved.
    MovePour("/casts/{cast}/pours/move") { cast: CastId }
    /// One of the compared plans taken.
    TakePlan("/casts/{cast}/pours/take") { cast: CastId }
    /// The times shown taken.
    Settle("/casts/{cast}/pours/settle") { cast: CastId }
    /// The taken plan given up.
    Release("/casts/{cast}/pours/release") { cast: CastId }
    /// The pours to come fitted to what has happened.
    FitRest("/casts/{cast}/pours/fit") { cast: CastId }
    /// A change that helps applied.
    ApplyFix("/casts/{cast}/pours/fix") { cast: CastId }
    /// What happened, written down.
    LogFact("/casts/{cast}/pours/facts") { cast: CastId }
    /// What was written down wrongly, withdrawn.
    WithdrawFact("/casts/{cast}/pours/facts/{row}/withdraw") { cast: CastId, row: i64 }
    /// A run begun.
    BeginRun("/casts/{cast}/runs") { cast: CastId }
    /// The bench of a run.
    Run("/casts/{cast}/runs/{run}") { cast: CastId, run: RunId }
    /// Labels for the buckets of a run.
    RunLabels("/casts/{cast}/runs/{run}/labels") { cast: CastId, run: RunId }
    /// What happened in a run, written down.
    RunRows("/casts/{cast}/runs/{run}/rows") { cast: CastId, run: RunId }
    /// Something told of the finishing.
    TellFinish("/casts/{cast}/finish/told") { cast: CastId }
    /// A cast that has come to its end.
    CloseCast("/casts/{cast}/record/close") { cast: CastId }
    /// A cast that is worked on again.
    ReopenCast("/casts/{cast}/record/reopen") { cast: CastId }
    /// The record on paper.
    RecordSheet("/casts/{cast}/record/sheet") { cast: CastId }
    /// A fault marked.
    MarkFault("/casts/{cast}/record/faults") { cast: CastId }
    /// A fault explained or taken back.
    ChangeFault("/casts/{cast}/record/faults/{fault}") { cast: CastId, fault: FaultId }
    /// Photos and files of a cast.
    Files("/casts/{cast}/files") { cast: CastId }
    /// A photo brought in.
    AddPhoto("/casts/{cast}/photos") { cast: CastId }
    /// A photo of a step of finishing kept.
    ShowStep("/casts/{cast}/finish/photos") { cast: CastId }
    /// A photo of a fault kept.
    ShowFault("/casts/{cast}/record/faults/{fault}/photos") { cast: CastId, fault: FaultId }
    /// Outlines brought in.
    AddOutlines("/casts/{cast}/outlines") { cast: CastId }
    /// A drawing that is being looked at.
    Drawing("/casts/{cast}/drawings/{drawing}") { cast: CastId, drawing: DrawingId }
    /// What a drawing holds taken.
    TakeDrawing("/casts/{cast}/drawings/{drawing}/take") { cast: CastId, drawing: DrawingId }
    /// A solid brought in.
    AddMesh("/casts/{cast}/mesh") { cast: CastId }
    /// A mesh that is being looked at.
    Mesh("/casts/{cast}/meshes/{mesh}") { cast: CastId, mesh: DrawingId }
    /// A mesh taken for an object.
    TakeMesh("/casts/{cast}/meshes/{mesh}/take") { cast: CastId, mesh: DrawingId }
    /// A photo squared up.
    Photo("/casts/{cast}/photos/{photo}") { cast: CastId, photo: PhotoId }
    /// The timber found in a photo taken for boards.
    TakeTimber("/casts/{cast}/photos/{photo}/take") { cast: CastId, photo: PhotoId }
    /// A photo removed.
    RemovePhoto("/casts/{cast}/photos/{photo}/remove") { cast: CastId, photo: PhotoId }
    /// The bytes of a photo.
    PhotoBytes("/casts/{cast}/photos/{photo}/{which}") {
        cast: CastId, photo: PhotoId, which: String
    }
    /// A station of a cast.
    Station("/casts/{cast}/{station}") { cast: CastId, station: String }
    /// A change of a cast undone or redone.
    Step("/casts/{cast}/{station}/{step}") { cast: CastId, station: String, step: String }
}

/// The casts of the workshop.
#[derive(Debug, Clone, Copy, TypedPath, Deserialize)]
#[typed_path("/casts", rejection(WebError))]
pub(crate) struct Casts;

/// A cast from a file.
#[derive(Debug, Clone, Copy, TypedPath, Deserialize)]
#[typed_path("/casts/import", rejection(WebError))]
pub(crate) struct ImportCast;

/// A new cast.
#[derive(Debug, Clone, Copy, TypedPath, Deserialize)]
#[typed_path("/casts/new", rejection(WebError))]
pub(crate) struct NewCast;

impl Station {
    /// A station by its name.
    pub(crate) fn of(cast: CastId, station: &str) -> Self {
        Self { cast, station: station.to_owned() }
    }
}

impl PhotoBytes {
    /// A squared-up picture: another address for other corners or another size, so that a browser
    /// may keep it.
    pub(crate) fn squared(cast: CastId, photo: PhotoId, squaring: &Squaring) -> String {
        let corners: Vec<String> =
            squaring.corners.iter().map(|c| format!("{:.0}-{:.0}", c.x_px, c.y_px)).collect();
        let (length, width) = (squaring.length.mm().round(), squaring.width.mm().round());
        let version = format!("{}-{length}-{width}", corners.join("-"));
        let which = "squared.jpg".to_owned();
        format!("{}?v={version}", Self { cast, photo, which })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_link_is_its_route_with_the_fields_filled_in() {
        let cast = CastId(7);
        assert_eq!(Station::of(cast, "heat").to_string(), "/casts/7/heat");
        assert_eq!(WithdrawFact { cast, row: 3 }.to_string(), "/casts/7/pours/facts/3/withdraw");
        let odd = Export { cast, file: "a b/c?.svg".into() };
        assert_eq!(odd.to_string(), "/casts/7/export/a%20b%2Fc%3F.svg");
        assert_eq!(Casts.to_string(), "/casts");
    }
}
