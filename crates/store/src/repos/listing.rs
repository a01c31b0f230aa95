//! Casts in a list: how far each has come, found by word, put away and deleted.

use fondant_cast::Document;
use jiff::{SignedDuration, Timestamp};
use sea_orm::sea_query::Expr;
use sea_orm::{
    ColumnTrait, Condition, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter,
    QuerySelect, Statement,
};

use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column};
use crate::entities::cast;
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// How long a deleted cast can be brought back.
pub const BROUGHT_BACK_WITHIN: SignedDuration = SignedDuration::from_hours(30 * 24);
/// Most words that are looked for.
const MOST_WORDS: usize = 8;

/// How far a cast has come, by the plan that it follows and what has happened.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum CastState {
    /// Nothing is poured yet.
    Planning,
    /// From its first pour to the end of its last.
    Pouring,
    /// All is in, and not hard yet.
    Curing,
    /// Hard all through.
    Done,
}

impl CastState {
    /// All states, in the order of a cast's life.
    pub const ALL: [Self; 4] = [Self::Planning, Self::Pouring, Self::Curing, Self::Done];

    const fn word(self) -> &'static str {
        match self {
            Self::Planning => "planning",
            Self::Pouring => "pouring",
            Self::Curing => "curing",
            Self::Done => "done",
        }
    }
}

/// A cast `c` with its agenda `a`, or with what was poured of it at once, `o`.
const WITH_POURS: &str = "left join agenda a on a.cast_id = c.id \
     left join (select r.cast_id, bool_or(r.ended_at is null) as in_hand, max(r.hard_at) as hard_at \
     from run r where r.pour_id is null and (r.ended_at is null or r.hard_at is not null) \
     group by r.cast_id) o on o.cast_id = c.id and a.cast_id is null";

/// The state of a cast [`WITH_POURS`] at the time `$2`.
const STATE: &str = "case when o.in_hand then 'pouring' when o.hard_at > $2 then 'curing' \
     when o.hard_at is not null then 'done' when a.begins_at is null or a.begins_at > $2 then 'planning' \
     when a.poured_at > $2 then 'pouring' when a.ends_at > $2 then 'curing' else 'done' end";

/// Whether a cast `c` has come to its end: it stands in the ledger, and in no list.
const ENDED: &str = "exists (select 1 from record d where d.cast_id = c.id and not d.is_open)";

/// Which casts are listed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Listed {
    /// All that are neither put away nor deleted.
    #[default]
    Open,
    /// Those of them in this state.
    Of(CastState),
    /// Put away.
    PutAway,
    /// Deleted, as long as they can be brought back.
    Deleted,
}

impl Listed {
    fn condition(self) -> String {
        let open = "c.put_away_at is null and c.deleted_at is null";
        match self {
            Self::Open => open.to_owned(),
            Self::Of(state) => format!("{open} and {STATE} = '{}'", state.word()),
            Self::PutAway => {
                format!("c.put_away_at is not null and c.deleted_at is null and not {ENDED}")
            }
            Self::Deleted => "c.deleted_at is not null".to_owned(),
        }
    }
}

/// What is asked of a list.
#[derive(Debug, Clone, Default)]
pub struct Asked {
    /// Which casts.
    pub listed: Listed,
    /// Words, each of which the name, the resin or the wished finish has.
    pub words: String,
    /// Where the page begins: after this cast.
    pub after: Option<Cursor>,
}

/// A cast in a list.
#[derive(Debug, Clone, PartialEq)]
pub struct CastSummary {
    /// Database id.
    pub id: CastId,
    /// Name of the cast.
    pub name: String,
    /// Its newest revision; a change must name it.
    pub revision: i32,
    /// When its document last changed.
    pub updated_at: Timestamp,
    /// How far it has come.
    pub state: CastState,
    /// The newest document; `None` where what is kept cannot be read.
    pub document: Option<Document>,
}

/// Where the next page of a list begins: after this cast.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Cursor {
    /// When the last cast of the page before was changed.
    pub updated_at: Timestamp,
    /// Database id.
    pub id: CastId,
}

/// How many casts there are of each kind of list.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Counts {
    /// By state, in the order of [`CastState::ALL`].
    pub of: [u64; 4],
    /// Put away.
    pub put_away: u64,
    /// Deleted.
    pub deleted: u64,
}

/// Where a cast is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Keep {
    /// Among the casts that are worked on.
    Open,
    /// Put away: out of the list, of Today and of the calendar.
    PutAway,
    /// Deleted, and for good after [`BROUGHT_BACK_WITHIN`].
    Deleted,
}

#[derive(FromQueryResult)]
struct Row {
    id: i64,
    name: String,
    revision: i32,
    updated_at: sea_orm::prelude::DateTimeUtc,
    state: String,
    plan: serde_json::Value,
}

#[derive(FromQueryResult)]
struct CountRow {
    place: String,
    count: i64,
}

impl<C: ConnectionTrait> Session<C> {
    /// Casts of a workshop, the one changed last first: a page of at most `count`.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn casts(
        &self,
        workshop: WorkshopId,
        asked: &Asked,
        (count, now): (u64, Timestamp),
    ) -> Result<Vec<CastSummary>, StoreError> {
        let mut values: Vec<sea_orm::Value> =
            vec![workshop.0.into(), to_column(now)?.into(), (count as i64).into()];
        let mut sql = format!(
            "select c.id, c.name, c.revision, c.updated_at, {STATE} as state, r.plan \
             from \"cast\" c join cast_revision r on r.cast_id = c.id and r.number = c.revision \
             {WITH_POURS} where c.workshop_id = $1 and {}",
            asked.listed.condition()
        );
        for word in asked.words.split_whitespace().take(MOST_WORDS) {
            values.push(like(word).into());
            let place = values.len();
            sql += &format!(
                " and (c.name ilike ${place} or r.plan->>'resin' ilike ${place} \
                 or r.plan->'brief'->>'finish' ilike ${place})"
            );
        }
        if let Some(after) = asked.after {
            sql += &format!(
                " and (c.updated_at, c.id) < (${}, ${})",
                values.len() + 1,
                values.len() + 2
            );
            values.push(to_column(after.updated_at)?.into());
            values.push(after.id.0.into());
        }
        sql += " order by c.updated_at desc, c.id desc limit $3";
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), sql, values);
        let rows = Row::find_by_statement(statement).all(&self.0).await?;
        rows.into_iter().map(summary).collect()
    }

    /// How many casts each list has.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn count_casts(
        &self,
        workshop: WorkshopId,
        now: Timestamp,
    ) -> Result<Counts, StoreError> {
        let sql = format!(
            "select case when c.deleted_at is not null then 'deleted' \
             when c.put_away_at is not null then 'put away' else {STATE} end as place, \
             count(*) as count from \"cast\" c {WITH_POURS} \
             where c.workshop_id = $1 \
             and (c.deleted_at is not null or not {ENDED}) group by place"
        );
        let values: [sea_orm::Value; 2] = [workshop.0.into(), to_column(now)?.into()];
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), sql, values);
        let rows = CountRow::find_by_statement(statement).all(&self.0).await?;
        let mut counts = Counts::default();
        for CountRow { place, count } in rows {
            let count = count.unsigned_abs();
            match CastState::ALL.iter().position(|state| state.word() == place) {
                Some(index) => counts.of[index] = count,
                None if place == "deleted" => counts.deleted = count,
                None => counts.put_away = count,
            }
        }
        Ok(counts)
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// Name of a cast, deleted or not, and where it is kept; `None` where this workshop has none of
    /// that number.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn kept_cast(
        &self,
        workshop: WorkshopId,
        id: CastId,
    ) -> Result<Option<(String, Keep)>, StoreError> {
        let row = cast::Entity::find().filter(of(workshop, id)).one(&self.0).await?;
        Ok(row.map(|row| (row.name.clone(), kept_in(&row))))
    }
}

impl Transaction {
    /// Keeps a cast, deleted or not, in another place. Returns its revision; `None` where it is kept
    /// there already.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where this workshop has none of that number.
    pub async fn keep_cast(
        &self,
        workshop: WorkshopId,
        id: CastId,
        keep: Keep,
        now: Timestamp,
    ) -> Result<Option<i32>, StoreError> {
        let row = cast::Entity::find().filter(of(workshop, id)).lock_exclusive();
        let row = row.one(&self.0).await?.ok_or(StoreError::NotFound("cast"))?;
        let is = kept_in(&row);
        if is == keep {
            return Ok(None);
        }
        let at = Some(to_column(now)?);
        // One that was put away before it was deleted is put away again when it is brought back.
        let (put_away, deleted) = match keep {
            Keep::Open if is == Keep::Deleted => (row.put_away_at, None),
            Keep::Open => (None, None),
            Keep::PutAway => (at, None),
            Keep::Deleted => (row.put_away_at, at),
        };
        cast::Entity::update_many()
            .col_expr(cast::Column::PutAwayAt, Expr::value(put_away))
            .col_expr(cast::Column::DeletedAt, Expr::value(deleted))
            .filter(of(workshop, id))
            .exec(&self.0)
            .await?;
        Ok(Some(row.revision))
    }

    /// Deletes for good what was deleted longer ago than it can be brought back.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn forget_deleted_casts(&self, now: Timestamp) -> Result<u64, StoreError> {
        let until = now.saturating_sub(BROUGHT_BACK_WITHIN);
        let until = to_column(until.map_err(|_| StoreError::NotFound("time"))?)?;
        let gone = cast::Entity::delete_many()
            .filter(cast::Column::DeletedAt.lt(until))
            .exec(&self.0)
            .await?;
        Ok(gone.rows_affected)
    }
}

/// A cast by its number, deleted or not.
fn of(workshop: WorkshopId, id: CastId) -> Condition {
    Condition::all().add(cast::Column::WorkshopId.eq(workshop.0)).add(cast::Column::Id.eq(id.0))
}

fn kept_in(row: &cast::Model) -> Keep {
    match (row.put_away_at, row.deleted_at) {
        (_, Some(_)) => Keep::Deleted,
        (Some(_), None) => Keep::PutAway,
        (None, None) => Keep::Open,
    }
}

/// A pattern for a word anywhere in a text; what stands for others in a pattern stands for itself.
pub(super) fn like(word: &str) -> String {
    let plain = word.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
    format!("%{plain}%")
}

fn summary(row: Row) -> Result<CastSummary, StoreError> {
    let state = CastState::ALL.into_iter().find(|state| state.word() == row.state);
    Ok(CastSummary {
        id: CastId(row.id),
        name: row.name,
        revision: row.revision,
        updated_at: from_column(row.updated_at)?,
        state: state.unwrap_or(CastState::Planning),
        document: from_json(&row.plan).ok(),
    })
}
