//! A database that can be made to be away.

use std::net::SocketAddr;

use tokio::io::copy_bidirectional;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::watch;

/// Stands between the application and its database, and can cut the two apart.
#[derive(Debug)]
pub struct Outage {
    is_away: watch::Sender<bool>,
    address: String,
}

impl Outage {
    /// Before a database by its address.
    ///
    /// # Panics
    /// Where the address names no port of this machine.
    pub async fn before(database: &str) -> Self {
        let mut url = url::Url::parse(database).expect("an address");
        let real = SocketAddr::from(([127, 0, 0, 1], url.port().expect("a port")));
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let port = listener.local_addr().expect("an address").port();
        url.set_port(Some(port)).expect("an address with a port");
        let (is_away, seen) = watch::channel(false);
        tokio::spawn(async move {
            while let Ok((client, _)) = listener.accept().await {
                tokio::spawn(pass(client, real, seen.clone()));
            }
        });
        Self { is_away, address: url.into() }
    }

    /// The address under which the application reaches its database.
    #[must_use]
    pub fn address(&self) -> &str {
        &self.address
    }

    /// Cuts all connections, and lets none through any more.
    pub fn begin(&self) {
        self.is_away.send_replace(true);
    }

    /// Lets them through again.
    pub fn end(&self) {
        self.is_away.send_replace(false);
    }
}

async fn pass(mut client: TcpStream, real: SocketAddr, mut is_away: watch::Receiver<bool>) {
    if *is_away.borrow() {
        return;
    }
    let Ok(mut server) = TcpStream::connect(real).await else { return };
    tokio::select! {
        _ = copy_bidirectional(&mut client, &mut server) => {}
        _ = is_away.wait_for(|away| *away) => {}
    }
}
