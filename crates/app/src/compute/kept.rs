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
    entries: KeptSorts,
    bytes_of: fn(&T) -> usize,
}

impl<T: Send + Sync + 'static> Kept<T> {
    /// A cache of at most `bytes`; `bytes_of` is the size of one value.
    pub(crate) fn new(bytes: u64, bytes_of: fn(&T) -> usize) -> Self {
        Self { entries: KeptSorts::new(bytes), bytes_of }
    }

    /// The cached value, or the result of `work`. Concurrent requests share one computation.
    pub(crate) fn get_or<'a>(
        &'a self,
        key: &'a Key,
        work: impl Future<Output = Result<T, AppError>> + Send + 'a,
    ) -> Boxed<'a, Arc<T>> {
        self.entries.get_or(key, self.bytes_of, work)
    }

    /// The cached value of a key.
    pub(crate) async fn get(&self, key: &Key) -> Option<Arc<T>> {
        self.entries.cache.get(key).await?.open().ok()
    }
}

/// Results of several sorts, each key of one sort only; bounded as one.
pub(crate) struct KeptSorts {
    cache: Cache<Key, Entry>,
}

impl KeptSorts {
    /// A cache of at most `bytes`.
    pub(crate) fn new(bytes: u64) -> Self {
        let weighed = Cache::builder().max_capacity(bytes);
        Self { cache: weighed.weigher(|_: &Key, entry: &Entry| entry.bytes).build() }
    }

    /// The cached value, or the result of `work`, whose size is `bytes_of` it. Concurrent requests
    /// share one computation.
    pub(crate) fn get_or<'a, T: Send + Sync + 'static>(
        &'a self,
        key: &'a Key,
        bytes_of: fn(&T) -> usize,
        work: impl Future<Output = Result<T, AppError>> + Send + 'a,
    ) -> Boxed<'a, Arc<T>> {
        let made: Boxed<'a, Entry> = Box::pin(async move {
            let result = work.await?;
            let bytes = u32::try_from(bytes_of(&result)).unwrap_or(u32::MAX);
            Ok(Entry { result: Arc::new(result), bytes })
        });
        let found = self.entry_or(key, made);
        Box::pin(async { found.await?.open() })
    }

    /// Apart from [`Self::get_or`], as it is the same for every sort and is built once.
    fn entry_or<'a>(&'a self, key: &'a Key, made: Boxed<'a, Entry>) -> Boxed<'a, Entry> {
        Box::pin(async {
            let found = self.cache.try_get_with_by_ref(key, made).await;
            found.map_err(|error: Arc<AppError>| AppError::clone(&error))
        })
    }
}

/// A result of whatever sort, and the bytes that it takes. One type for them all: the compiler builds
/// a cache once more for each type that is kept in one.
#[derive(Clone)]
struct Entry {
    result: Arc<dyn Any + Send + Sync>,
    bytes: u32,
}

impl Entry {
    /// As the sort of its key.
    fn open<T: Send + Sync + 'static>(self) -> Result<Arc<T>, AppError> {
        let other = |_| AppError::fault("a result of another sort is kept");
        self.result.downcast().map_err(other)
    }
}
