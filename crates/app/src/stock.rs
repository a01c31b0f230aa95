//! What stands on the shelf of a resin, and what of it is meant for other casts.

use fondant_cast::mix::buying::Buying;
use fondant_materials::resin::shelf::Lot;
use fondant_materials::resin::{Kit, ResinId};
use fondant_quantities::Volume;
use fondant_store::repos::CastId;

use crate::app::App;
use crate::error::AppError;
use crate::shelf;
use crate::shop::Shop;

/// Resin that a taken plan of another cast still needs.
#[derive(Debug, Clone, PartialEq)]
pub struct Reserved {
    /// Name of that cast.
    pub by: String,
    /// The resin.
    pub resin: ResinId,
    /// Mixed volume of its pours to come.
    pub volume: Volume,
}

/// Lots of the shelf, and what is reserved of them.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Stock {
    /// What is left in the bottles.
    pub lots: Vec<Lot>,
    /// What other casts have taken plans for.
    pub reserved: Vec<Reserved>,
}

impl Stock {
    /// Mixed volume of a resin that stands on the shelf.
    #[must_use]
    pub fn left(&self, resin: &ResinId) -> Volume {
        self.lots.iter().filter(|lot| lot.resin == *resin).map(|lot| lot.left).sum()
    }

    /// What of that is meant for other casts, by cast.
    pub fn reserved_of<'a>(&'a self, resin: &'a ResinId) -> impl Iterator<Item = &'a Reserved> {
        self.reserved.iter().filter(move |reserved| reserved.resin == *resin)
    }

    /// What of a resin no other cast has reserved.
    #[must_use]
    pub fn free(&self, resin: &ResinId) -> Volume {
        let reserved: Volume = self.reserved_of(resin).map(|reserved| reserved.volume).sum();
        (self.left(resin) - reserved).max(Volume::ZERO)
    }

    /// How a resin is bought: its kit, after what is free on the shelf; `None` where the shelf has no
    /// kit of it.
    #[must_use]
    pub fn buying(&self, resin: &ResinId, kit: Option<Kit>) -> Option<Buying> {
        let kit = kit.filter(|kit| kit.volume > Volume::ZERO)?;
        Some(Buying { kit: kit.volume, price: kit.price, opened: self.free(resin) })
    }
}

/// The stock as it is for a cast: what its own plan needs is not reserved from it.
///
/// # Errors
/// [`AppError`].
pub async fn stock(app: &App, shop: &Shop, cast: CastId) -> Result<Stock, AppError> {
    let read = app.store.read();
    let (lots, agendas) = tokio::try_join!(shelf::items::<Lot>(app, shop), async {
        Ok(read.agendas(shop.id, app.now()).await?)
    })?;
    let mut reserved: Vec<Reserved> = Vec::new();
    for kept in agendas.into_iter().filter(|kept| kept.cast != cast) {
        let Some(agenda) = kept.agenda else { continue };
        for pour in agenda.pours.iter().skip(agenda.poured) {
            let resin = pour.resin.as_ref().unwrap_or(&agenda.resin);
            match reserved.iter_mut().find(|one| one.by == kept.name && one.resin == *resin) {
                Some(one) => one.volume = one.volume + pour.volume,
                None => reserved.push(Reserved {
                    by: kept.name.clone(),
                    resin: resin.clone(),
                    volume: pour.volume,
                }),
            }
        }
    }
    Ok(Stock { lots: lots.items.into_iter().map(|kept| kept.item).collect(), reserved })
}
