//! A workshop: everything else belongs to one.

use sea_orm::entity::prelude::*;

use super::Relation;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "workshop")]
pub(crate) struct Model {
    #[sea_orm(primary_key)]
    pub(crate) id: i64,
    pub(crate) name: String,
    pub(crate) time_zone: String,
    /// Monday to Sunday: a list of stretches each. Once one stretch or `null`.
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) hours: Json,
    pub(crate) units: String,
    pub(crate) revision: i32,
    /// Hands, machines, air; what is missing is as in a new shop.
    #[sea_orm(column_type = "JsonBinary")]
    pub(crate) settings: Json,
    /// Counts changes of the shelf.
    pub(crate) shelf_revision: i32,
    /// Counts changes of the readings of the shop's air.
    pub(crate) air_revision: i32,
    /// The private part of the calendar's address.
    pub(crate) feed_token: Option<String>,
    /// Id of this installation, made by the database: events of two installations never share an id.
    pub(crate) installation: String,
}

impl ActiveModelBehavior for ActiveModel {}
