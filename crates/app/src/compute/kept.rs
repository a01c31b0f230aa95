//! A cache of results.

use std::any::Any;
use std::future::Future;
use std::sync::Arc;

use moka::future::Cache;

use super::key::Key;
use crate::error::{AppError, Boxed};

/// Results of one sort. Those asked for at the same time are worked out once; together they take
/// up a bounded number of bytes.
pub(crate) struct Kept<T> {
    cache: Cache<Key, Entry>,
    bytes_of: fn(&T) -> usize,
}

/// A result of whatever sort, and the bytes that it takes. One type for them all: the compiler builds
/// a cache once more for each type that is kept in one.
#[derive(Clone)]
struct Entry {
    result: Arc<dyn Any + Send + Sync>,
    bytes: u32,
}

impl Entry {
    /// As the sort of which all in its cache are.
    fn open<T: Send + Sync + 'static>(self) -> Result<Arc<T>, AppError> {
        let other = |_| AppError::fault("a result of another sort is kept");
        self.result.downcast().map_err(other)
    }
}

impl<T: Send + Sync + 'static> Kept<T> {
    /// A cache of at most `bytes`; `bytes_of` is the size of one value.
    pub(crate) fn new(bytes: u64, bytes_of: fn(&T) -> usize) -> Self {
        Self { cache: empty(bytes), bytes_of }
    }

    /// The cached value, or the result of `work`. Concurrent requests share one computation.
    pub(crate) fn get_or<'a>(
        &'a self,
        key: &'a Key,
        work: impl Future<Output = Result<T, AppError>> + Send + 'a,
    ) -> Boxed<'a, Arc<T>> {
        let bytes_of = self.bytes_of;
        let made: Boxed<'a, Entry> = Box::pin(async move {
            let result = work.await?;
            let bytes = u32::try_from(bytes_of(&result)).unwrap_or(u32::MAX);
            Ok(Entry { result: Arc::new(result), bytes })
        });
        let found = found_or(&self.cache, key, made);
        Box::pin(async { found.await?.open() })
    }

    /// The cached value of a key.
    pub(crate) async fn get(&self, key: &Key) -> Option<Arc<T>> {
        found(&self.cache, key).await?.open().ok()
    }
}

fn empty(bytes: u64) -> Cache<Key, Entry> {
    Cache::builder().max_capacity(bytes).weigher(|_: &Key, entry: &Entry| entry.bytes).build()
}

async fn found(cache: &Cache<Key, Entry>, key: &Key) -> Option<Entry> {
    cache.get(key).await
}

fn found_or<'a>(
    cache: &'a Cache<Key, Entry>,
    key: &'a Key,
    made: Boxed<'a, Entry>,
) -> Boxed<'a, Entry> {
    Box::pin(async {
        let found = cache.try_get_with_by_ref(key, made).await;
        found.map_err(|error: Arc<AppError>| AppError::clone(&error))
    })
}
