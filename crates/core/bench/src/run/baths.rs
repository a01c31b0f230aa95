//! Warm water for bottles before the pour, and cold water round the form after it.

use jiff::Timestamp;

use super::happening::ReadyItem;
use super::state::Run;

impl Run {
    /// Bottles in warm water, and when they are as warm as the plan wants; `None` where there are none,
    /// or no longer.
    #[must_use]
    pub fn warms(&self) -> Option<(Timestamp, Option<Timestamp>)> {
        let is_over = self.ready.contains(&ReadyItem::Warm) || !self.batches.is_empty();
        let warming = self.warming.filter(|_| !is_over)?;
        Some((warming.begun, warming.until(self.plan.resin_at, self.plan.air)))
    }

    /// Since when the form is kept cold, and when that may end; the end is `None` where it lasts until
    /// the form is opened.
    #[must_use]
    pub fn chills(&self) -> Option<(Timestamp, Option<Timestamp>)> {
        let chill = self.plan.chill?;
        let (begun, _) = self.first_poured()?;
        Some((begun, chill.lasts.map(|lasts| begun + lasts.signed())))
    }

    /// When the ice is gone if it goes on melting as it did between the first and the last look;
    /// `None` where nobody looked twice, or none has melted.
    #[must_use]
    pub fn ice_until(&self) -> Option<Timestamp> {
        let mut looks = self.chilled.iter().filter_map(|(at, _, ice)| Some((*at, (*ice)?)));
        let (first, last) = (looks.next()?, looks.next_back()?);
        let melted = (first.1 - last.1).kg();
        let hours = last.0.duration_since(first.0).as_secs_f64() / 3600.0;
        if melted <= 0.0 || hours <= 0.0 {
            return None;
        }
        let left = last.1.kg() / (melted / hours);
        last.0.checked_add(fondant_quantities::Span::from_h(left).signed()).ok()
    }
}
