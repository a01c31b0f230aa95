//! `fondant serve`.

use std::net::{Ipv4Addr, SocketAddr};

use clap::Args;
use fondant_cast::ShopSettings;
use fondant_pours::Workday;
use fondant_quantities::units::UnitSystem;
use fondant_store::repos::NewWorkshop;
use fondant_store::{Store, StoreError};
use fondant_web::AppState;
use jiff::Timestamp;
use jiff::civil::Time;
use tokio::net::TcpListener;
use tokio::signal::unix::{SignalKind, signal};

use crate::demo;

/// Ports tried after the one asked for.
const PORTS_TRIED: u16 = 20;

#[derive(Debug, Args)]
pub(crate) struct ServeArguments {
    /// Port on 127.0.0.1; the next free one is taken where it is in use. 0 lets
    /// the system choose.
    #[arg(long, default_value_t = 7350)]
    port: u16,
    /// Address of the PostgreSQL database.
    #[arg(long, env = "FONDANT_DATABASE_URL")]
    database_url: String,
    /// Load the demo workshop where there is no workshop yet.
    #[arg(long)]
    demo: bool,
}

/// Why the server did not run.
#[derive(Debug, thiserror::Error)]
pub(crate) enum ServeError {
    /// Kept data.
    #[error("{0}")]
    Store(#[from] StoreError),
    /// Listening or serving.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// Every port tried is in use.
    #[error("ports {first} to {last} are all in use; choose another with --port")]
    NoPort {
        /// The first one tried.
        first: u16,
        /// The last one tried.
        last: u16,
    },
}

/// Serves until the process is told to stop.
pub(crate) fn run(arguments: &ServeArguments) -> Result<(), ServeError> {
    let filter = tracing_subscriber::EnvFilter::try_from_default_env()
        .unwrap_or_else(|_| "fondant=info,warn".into());
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    tokio::runtime::Builder::new_multi_thread().enable_all().build()?.block_on(serve(arguments))
}

#[allow(clippy::print_stdout, reason = "the address is what the person at the terminal waits for")]
async fn serve(arguments: &ServeArguments) -> Result<(), ServeError> {
    let store = Store::connect(&arguments.database_url).await?;
    store.migrate().await?;
    if store.workshop().await?.is_none() {
        if arguments.demo {
            demo::load(&store, Timestamp::now()).await?;
        } else {
            store.create_workshop(&empty_workshop()).await?;
        }
    }
    let listener = listen(arguments.port).await?;
    let address = listener.local_addr()?;
    if arguments.port != 0 && address.port() != arguments.port {
        println!("Port {} is in use; taking {} instead.", arguments.port, address.port());
    }
    println!("Fondant is open at http://{address}/  (Ctrl-C closes it)");
    let state = AppState::new(store.clone(), Timestamp::now);
    let following = tokio::spawn(state.clone().follow_the_air());
    fondant_web::serve(listener, state, stopped()).await?;
    following.abort();
    store.close().await?;
    println!("Fondant is closed.");
    Ok(())
}

async fn listen(port: u16) -> Result<TcpListener, ServeError> {
    let last = port.saturating_add(if port == 0 { 0 } else { PORTS_TRIED });
    for port in port..=last {
        match TcpListener::bind(SocketAddr::from((Ipv4Addr::LOCALHOST, port))).await {
            Err(error) if error.kind() == std::io::ErrorKind::AddrInUse => {}
            bound => return Ok(bound?),
        }
    }
    Err(ServeError::NoPort { first: port, last })
}

/// Ready once the process is interrupted or terminated.
async fn stopped() {
    let (Ok(mut interrupt), Ok(mut terminate)) =
        (signal(SignalKind::interrupt()), signal(SignalKind::terminate()))
    else {
        // Without signals there is no gentle way to stop; serve on.
        return std::future::pending().await;
    };
    tokio::select! {
        _ = interrupt.recv() => {}
        _ = terminate.recv() => {}
    }
}

/// A shop of weekdays from eight to six.
fn empty_workshop() -> NewWorkshop {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
    NewWorkshop {
        name: "My workshop".into(),
        time_zone: "UTC".into(),
        days: std::array::from_fn(|index| if index < 5 { vec![day] } else { Vec::new() }),
        shop: ShopSettings::default(),
        units: UnitSystem::Metric,
    }
}
