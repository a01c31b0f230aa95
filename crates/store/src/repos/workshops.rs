//! Workshops and their settings.

use fondant_cast::ShopSettings;
use fondant_pours::{HoursError, ShopHours, Workday};
use fondant_quantities::units::UnitSystem;
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
};
use serde::{Deserialize, Serialize};

use crate::convert::{from_json, to_json};
use crate::entities::workshop::{ActiveModel, Column, Entity, Model};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A workshop's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct WorkshopId(pub i64);

/// A workshop and its settings.
#[derive(Debug, Clone, PartialEq)]
pub struct Workshop {
    /// Database id.
    pub id: WorkshopId,
    /// Counts changes of the settings.
    pub revision: i32,
    /// Counts changes of the shelf.
    pub shelf_revision: i32,
    /// Counts changes of the readings of its air.
    pub air_revision: i32,
    /// Id of this installation.
    pub installation: String,
    /// The settings.
    pub settings: WorkshopSettings,
}

/// The settings of a workshop.
#[derive(Debug, Clone, PartialEq)]
pub struct WorkshopSettings {
    /// Name of the workshop.
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

impl WorkshopSettings {
    /// The hours in which somebody can pour.
    ///
    /// # Errors
    /// [`HoursError`].
    pub fn hours(&self) -> Result<ShopHours, HoursError> {
        ShopHours::new(self.days.clone(), &self.time_zone)?.with_exceptions(&self.shop.exceptions)
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// The workshop of this installation, the first one made; `None` before any is.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn workshop(&self) -> Result<Option<Workshop>, StoreError> {
        let row = Entity::find().order_by_asc(Column::Id).one(&self.0).await?;
        row.map(read).transpose()
    }

    /// The private part of a workshop's calendar address; `None` before one is
    /// made.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn feed_token(&self, id: WorkshopId) -> Result<Option<String>, StoreError> {
        let row = Entity::find_by_id(id.0).one(&self.0).await?;
        Ok(row.and_then(|row| row.feed_token))
    }
}

impl Transaction {
    /// The workshop, which nobody else changes until this transaction ends.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn hold_workshop(&self, id: WorkshopId) -> Result<Workshop, StoreError> {
        let row = Entity::find_by_id(id.0).lock_shared().one(&self.0).await?;
        read(row.ok_or(StoreError::NotFound("workshop"))?)
    }

    /// The workshop, locked to be changed in this transaction.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn lock_workshop(&self, id: WorkshopId) -> Result<Workshop, StoreError> {
        let row = Entity::find_by_id(id.0).lock_exclusive().one(&self.0).await?;
        read(row.ok_or(StoreError::NotFound("workshop"))?)
    }

    /// Keeps everybody else from making a workshop until this transaction ends.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn lock_workshops(&self) -> Result<(), StoreError> {
        let sql = "lock table workshop in share row exclusive mode";
        self.0.execute_unprepared(sql).await?;
        Ok(())
    }

    /// Makes a workshop.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn create_workshop(&self, new: &WorkshopSettings) -> Result<WorkshopId, StoreError> {
        let row = ActiveModel { revision: ActiveValue::Set(1), ..columns(new)? };
        let inserted = Entity::insert(row).exec(&self.0).await?;
        Ok(WorkshopId(inserted.last_insert_id))
    }

    /// Changes the settings, if nobody has since `expected`. Returns the new revision.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has, and nothing is written.
    pub async fn save_workshop(
        &self,
        id: WorkshopId,
        expected: i32,
        new: &WorkshopSettings,
    ) -> Result<i32, StoreError> {
        let current = self.lock_workshop(id).await?.revision;
        if current != expected {
            return Err(StoreError::Stale { expected, current });
        }
        let revision = expected.saturating_add(1);
        let row = ActiveModel { revision: ActiveValue::Set(revision), ..columns(new)? };
        Entity::update_many().set(row).filter(Column::Id.eq(id.0)).exec(&self.0).await?;
        Ok(revision)
    }

    /// Counts a change of the shelf.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn shelf_changed(&self, id: WorkshopId) -> Result<(), StoreError> {
        self.count_up(id, Column::ShelfRevision).await
    }

    /// Counts a change of the readings of the shop's air.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn air_changed(&self, id: WorkshopId) -> Result<(), StoreError> {
        self.count_up(id, Column::AirRevision).await
    }

    async fn count_up(&self, id: WorkshopId, column: Column) -> Result<(), StoreError> {
        Entity::update_many()
            .col_expr(column, Expr::col(column).add(1))
            .filter(Column::Id.eq(id.0))
            .exec(&self.0)
            .await?;
        Ok(())
    }

    /// Gives the calendar a new address; the former one ends.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn set_feed_token(&self, id: WorkshopId, token: &str) -> Result<(), StoreError> {
        Entity::update_many()
            .col_expr(Column::FeedToken, Expr::value(token))
            .filter(Column::Id.eq(id.0))
            .exec(&self.0)
            .await?;
        Ok(())
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

fn columns(new: &WorkshopSettings) -> Result<ActiveModel, StoreError> {
    let units = to_json(&new.units)?;
    Ok(ActiveModel {
        name: ActiveValue::Set(new.name.clone()),
        time_zone: ActiveValue::Set(new.time_zone.clone()),
        hours: ActiveValue::Set(to_json(&new.days)?),
        units: ActiveValue::Set(units.as_str().unwrap_or_default().to_owned()),
        settings: ActiveValue::Set(to_json(&new.shop)?),
        ..ActiveModel::default()
    })
}

fn read(row: Model) -> Result<Workshop, StoreError> {
    Ok(Workshop {
        id: WorkshopId(row.id),
        revision: row.revision,
        shelf_revision: row.shelf_revision,
        air_revision: row.air_revision,
        installation: row.installation,
        settings: WorkshopSettings {
            name: row.name,
            time_zone: row.time_zone,
            days: from_json::<[KeptDay; 7]>(&row.hours)?.map(Vec::from),
            shop: from_json(&row.settings)?,
            units: from_json(&row.units.into())?,
        },
    })
}
