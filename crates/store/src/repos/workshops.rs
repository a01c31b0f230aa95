//! Workshops and their settings.

use fondant_cast::ShopSettings;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::units::UnitSystem;
use sea_orm::sea_query::Expr;
use sea_orm::{ActiveValue, ColumnTrait, EntityTrait, QueryFilter, QueryOrder};

use serde::Deserialize;

use crate::convert::{from_json, to_json};
use crate::entities::workshop;
use crate::{Store, StoreError};

/// A workshop's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct WorkshopId(pub i64);

/// A workshop and its settings.
#[derive(Debug, Clone, PartialEq)]
pub struct Workshop {
    /// Its number.
    pub id: WorkshopId,
    /// Counts changes of the settings.
    pub revision: i32,
    /// The settings.
    pub settings: NewWorkshop,
}

/// The settings of a workshop.
#[derive(Debug, Clone, PartialEq)]
pub struct NewWorkshop {
    /// Its name.
    pub name: String,
    /// Time zone by its IANA name.
    pub time_zone: String,
    /// Hours from Monday to Sunday.
    pub days: [Vec<Workday>; 7],
    /// The units it thinks in.
    pub units: UnitSystem,
    /// Hands, machines, air, dates with other hours.
    pub shop: ShopSettings,
}

impl NewWorkshop {
    /// The hours in which somebody can pour.
    ///
    /// # Errors
    /// [`StoreError::Corrupt`] where kept hours are none.
    pub fn hours(&self) -> Result<ShopHours, StoreError> {
        ShopHours::new(self.days.clone(), &self.time_zone)
            .and_then(|hours| hours.with_exceptions(&self.shop.exceptions))
            .map_err(|error| StoreError::Corrupt(error.to_string()))
    }
}

impl Store {
    /// The workshop of this installation, the first one made; `None` before any is.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn workshop(&self) -> Result<Option<Workshop>, StoreError> {
        let row = workshop::Entity::find().order_by_asc(workshop::Column::Id).one(&self.db).await?;
        row.map(read).transpose()
    }

    /// Makes a workshop.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn create_workshop(&self, new: &NewWorkshop) -> Result<WorkshopId, StoreError> {
        let row = workshop::ActiveModel { revision: ActiveValue::Set(1), ..columns(new)? };
        let inserted = workshop::Entity::insert(row).exec(&self.db).await?;
        Ok(WorkshopId(inserted.last_insert_id))
    }

    /// Changes the settings, if nobody has since `expected`.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has, and nothing is written.
    pub async fn save_workshop(
        &self,
        id: WorkshopId,
        expected: i32,
        new: &NewWorkshop,
    ) -> Result<(), StoreError> {
        let row = workshop::ActiveModel {
            revision: ActiveValue::Set(expected.saturating_add(1)),
            ..columns(new)?
        };
        let changed = workshop::Entity::update_many()
            .set(row)
            .filter(workshop::Column::Id.eq(id.0))
            .filter(workshop::Column::Revision.eq(expected))
            .exec(&self.db)
            .await?;
        if changed.rows_affected == 1 {
            return Ok(());
        }
        match workshop::Entity::find_by_id(id.0).one(&self.db).await? {
            Some(now) => Err(StoreError::Stale { expected, current: now.revision }),
            None => Err(StoreError::NotFound("workshop")),
        }
    }
}

/// A day as it is kept now, and as it once was.
#[derive(Deserialize)]
#[serde(untagged)]
enum KeptDay {
    Stretches(Vec<Workday>),
    Once(Option<Workday>),
}

impl From<KeptDay> for Vec<Workday> {
    fn from(kept: KeptDay) -> Self {
        match kept {
            KeptDay::Stretches(day) => day,
            KeptDay::Once(day) => day.into_iter().collect(),
        }
    }
}

fn columns(new: &NewWorkshop) -> Result<workshop::ActiveModel, StoreError> {
    let units = to_json(&new.units)?;
    Ok(workshop::ActiveModel {
        id: ActiveValue::NotSet,
        name: ActiveValue::Set(new.name.clone()),
        time_zone: ActiveValue::Set(new.time_zone.clone()),
        hours: ActiveValue::Set(to_json(&new.days)?),
        units: ActiveValue::Set(units.as_str().unwrap_or_default().to_owned()),
        revision: ActiveValue::NotSet,
        settings: ActiveValue::Set(to_json(&new.shop)?),
        feed_token: ActiveValue::NotSet,
    })
}

impl Store {
    /// The private part of a workshop's calendar address; `None` before one is
    /// made.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn feed_token(&self, id: WorkshopId) -> Result<Option<String>, StoreError> {
        let row = workshop::Entity::find_by_id(id.0).one(&self.db).await?;
        Ok(row.and_then(|row| row.feed_token))
    }

    /// Gives the calendar a new address; the former one ends.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn set_feed_token(&self, id: WorkshopId, token: &str) -> Result<(), StoreError> {
        workshop::Entity::update_many()
            .col_expr(workshop::Column::FeedToken, Expr::value(token))
            .filter(workshop::Column::Id.eq(id.0))
            .exec(&self.db)
            .await?;
        Ok(())
    }
}

fn read(row: workshop::Model) -> Result<Workshop, StoreError> {
    Ok(Workshop {
        id: WorkshopId(row.id),
        revision: row.revision,
        settings: NewWorkshop {
            name: row.name,
            time_zone: row.time_zone,
            days: from_json::<[KeptDay; 7]>(&row.hours)?.map(Vec::from),
            shop: from_json(&row.settings)?,
            units: from_json(&row.units.into())?,
        },
    })
}
