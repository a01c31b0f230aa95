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
    /// Its hours.
    #[error(transparent)]
    Hours(#[from] HoursError),
    /// Its weather.
    #[error(transparent)]
    Forecast(#[from] ForecastError),
    /// Its air.
    #[error(transparent)]
    Air(#[from] SeriesError),
    /// Its resin.
    #[error(transparent)]
    Resin(#[from] SheetError),
    /// Its photo.
    #[error(transparent)]
    Photo(#[from] FileError),
    /// The corners in its photo.
    #[error(transparent)]
    Corners(#[from] CornersError),
}
