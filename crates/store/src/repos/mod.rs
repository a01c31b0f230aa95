//! What can be asked of the store, one file an aggregate.

mod agendas;
mod air;
mod answered;
mod casts;
mod devices;
mod drawings;
mod facts;
mod finishing;
mod forecasts;
mod forms;
mod jobs;
mod large;
mod ledger;
mod listing;
mod photos;
mod readings;
mod records;
mod runs;
mod shelf;
mod workshops;

pub use agendas::{Basis, KeptAgenda};
pub use air::{AirLogId, KeptLog, NewLog};
pub use casts::{CastId, CastRecord, Step};
pub use devices::{DeviceId, DeviceRecord, LastReading, NewDevice, NewReading};
pub use drawings::{DrawingFile, DrawingId};
pub use forms::{BookedBy, FormId, FormRecord, Forms};
pub use jobs::{BegunJob, JobFailure, JobStanding, JobState, NewJob};
pub use ledger::{LedgerAsked, LedgerBy, LedgerGroup, LedgerRow, LedgerSort, LedgerTotals};
pub use listing::{
    Asked, BROUGHT_BACK_WITHIN, CastState, CastSummary, Counts, Cursor, Keep, Listed,
};
pub use photos::{NewPhoto, PhotoId, PhotoRecord, Picture, Shows};
pub use readings::{ReadIn, Thinned};
pub use records::{FaultId, KeptFault, KeptRecord};
pub use runs::{KeptRun, NewRow, RowsOf, RunId};
pub use shelf::{Kept, ShelfItem, Shelved};
pub use workshops::{Workshop, WorkshopId, WorkshopSettings};
