//! What can go wrong with the demo.

use fondant_devices::forecast::ForecastError;
use fondant_files::FileError;
use fondant_heat::calibration::sheet::SheetError;
use fondant_heat::climate::SeriesError;
use fondant_pours::HoursError;
use fondant_shapes::geometry::homography::CornersError;

/// Why the demo is not made.
#[derive(Debug, thiserror::Error)]
pub(crate) enum DemoError {
    /// The opening hours of the demo are invalid.
    #[error(transparent)]
    Hours(#[from] HoursError),
    /// The forecast of the demo is invalid.
    #[error(transparent)]
    Forecast(#[from] ForecastError),
    /// The air of the demo is invalid.
    #[error(transparent)]
    Air(#[from] SeriesError),
    /// A datasheet of the demo is invalid.
    #[error(transparent)]
    Resin(#[from] SheetError),
    /// The photo of the demo cannot be read.
    #[error(transparent)]
    Photo(#[from] FileError),
    /// The corners in its photo.
    #[error(transparent)]
    Corners(#[from] CornersError),
}
