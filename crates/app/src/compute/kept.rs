//! A cache of results.

use std::future::Future;
use std::sync::Arc;

use moka::future::Cache;

use super::key::Key;
use crate::error::{AppError, Boxed};

/// Results of one sort. Those asked for at the same time are worked out once; together they take
/// up a bounded number of bytes.
pub(crate) struct Kept<T> {
    cache: Cache<Key, Arc<T>>,
}

impl<T: Send + Sync + 'static> Kept<T> {
    /// A cache of at most `bytes`; `bytes_of` is the size of one value.
    pub(crate) fn new(bytes: u64, bytes_of: fn(&T) -> usize) -> Self {
        let weigh =
            move |_: &Key, value: &Arc<T>| u32::try_from(bytes_of(value)).unwrap_or(u32::MAX);
        Self { cache: Cache::builder().max_capacity(bytes).weigher(weigh).build() }
    }

    /// The cached value, or the result of `work`. Concurrent requests share one computation.
    pub(crate) fn get_or<'a>(
        &'a self,
        key: &'a Key,
        work: impl Future<Output = Result<T, AppError>> + Send + 'a,
    ) -> Boxed<'a, Arc<T>> {
        let work: Boxed<'a, T> = Box::pin(work);
        Box::pin(async {
            let made = async { work.await.map(Arc::new) };
            let found = self.cache.try_get_with_by_ref(key, made).await;
            found.map_err(|error: Arc<AppError>| AppError::clone(&error))
        })
    }

    /// The cached value of a key.
    pub(crate) async fn get(&self, key: &Key) -> Option<Arc<T>> {
        self.cache.get(key).await
    }
}
