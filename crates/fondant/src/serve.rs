//! `fondant serve`: the pages.

use std::net::{IpAddr, Ipv4Addr, SocketAddr};

use clap::{Args, ValueEnum};
use fondant_app::beginning;
use fondant_app::{App, Background, Works};
use fondant_web::Settings;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use url::Url;

use crate::demo;
use crate::running::{LAST_WORK, RunArguments, RunError};

/// Ports tried after the one asked for.
const PORTS_TRIED: u16 = 20;

#[derive(Debug, Clone, Args)]
struct PageArguments {
    /// Address to listen on. Another one than 127.0.0.1 lets everybody in the network use Fondant,
    /// which asks nobody who they are.
    #[arg(long, default_value_t = IpAddr::V4(Ipv4Addr::LOCALHOST))]
    listen: IpAddr,
    /// Port to listen on; the next free one is taken where it is in use. 0 lets the system choose.
    #[arg(long, default_value_t = 7350)]
    port: u16,
    /// The address under which others reach Fondant, where that is another one: behind a proxy, such
    /// as <https://bench.example/>.
    #[arg(long, env = "FONDANT_PUBLIC_URL")]
    public_url: Option<Url>,
    /// Who works on long jobs.
    #[arg(long, value_enum, default_value_t = Workers::Here)]
    workers: Workers,
    /// Load the demo workshop where there is no workshop yet.
    #[arg(long)]
    demo: bool,
}

/// Who works on long jobs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Workers {
    /// This process.
    Here,
    /// Processes of `fondant work` alone.
    Elsewhere,
}

#[derive(Debug, Args)]
pub(crate) struct ServeArguments {
    #[command(flatten)]
    run: RunArguments,
    #[command(flatten)]
    pages: PageArguments,
}

/// Serves until the process is told to stop.
pub(crate) fn run(arguments: &ServeArguments) -> Result<(), RunError> {
    let pages = arguments.pages.clone();
    arguments.run.run(|app, end| serve(app, pages, end))
}

async fn serve(app: App, pages: PageArguments, end: CancellationToken) -> Result<(), RunError> {
    // Without the demo, the first visitor says whose workshop it is.
    if pages.demo {
        load_demo(&app).await?;
    }
    let listener = listen(pages.listen, pages.port).await?;
    let listening = listener.local_addr()?;
    if pages.port != 0 && listening.port() != pages.port {
        say(format_args!("Port {} is in use; taking {} instead.", pages.port, listening.port()));
    }
    let settings = Settings { listening, public_url: pages.public_url };
    say(format_args!("Fondant is open at {}/  (Ctrl-C closes it)", settings.address()));
    let works = match pages.workers {
        Workers::Here => Works::Here,
        Workers::Elsewhere => Works::Elsewhere,
    };
    let background = Background::start(&app, works);
    fondant_web::serve(listener, app, settings, end).await?;
    background.stop(LAST_WORK).await;
    say(format_args!("Fondant is closed."));
    Ok(())
}

/// Loads the demo where there is no workshop yet: it takes seconds to work out, and one server does it.
async fn load_demo(app: &App) -> Result<(), RunError> {
    let _turn = beginning::turn(app).await?;
    if !beginning::has_begun(app).await? {
        beginning::begin(app, &demo::workshop(app.now())?).await?;
        demo::runs::begin(app).await?;
    }
    Ok(())
}

/// Prints a line on the terminal; a closed output is no error.
fn say(line: std::fmt::Arguments<'_>) {
    use std::io::Write;
    let _ = writeln!(std::io::stdout(), "{line}");
}

async fn listen(address: IpAddr, port: u16) -> Result<TcpListener, RunError> {
    let last = port.saturating_add(if port == 0 { 0 } else { PORTS_TRIED });
    for port in port..=last {
        match TcpListener::bind(SocketAddr::from((address, port))).await {
            Err(error) if error.kind() == std::io::ErrorKind::AddrInUse => {}
            bound => return Ok(bound?),
        }
    }
    Err(RunError::NoPort { first: port, last })
}
