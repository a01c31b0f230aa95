# Shared by the commands of ./run. Needs: root_dir.

say() { printf '\033[1m%s\033[0m\n' "$*"; }
die() { printf 'run: %s\n' "$*" >&2; exit 1; }

# Runs a command with the rights to install packages.
as_admin() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else die "installing Debian packages needs root or sudo: $*"
  fi
}

are_installed() {
  local package
  for package in "$@"; do
    dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || return 1
  done
}

# Installs the Debian packages that are missing.
need_packages() {
  local missing=() package
  for package in "$@"; do
    are_installed "$package" || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  say "Installing ${missing[*]}"
  as_admin apt-get update -qq
  # Debian's own cluster is not wanted: Fondant runs a private one.
  as_admin mkdir -p /etc/postgresql-common/createcluster.d
  echo 'create_main_cluster = false' \
    | as_admin tee /etc/postgresql-common/createcluster.d/fondant.conf >/dev/null
  as_admin env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"
}

# Rust's own installer is not a Debian package: say so instead of failing later.
need_rust() {
  need_packages build-essential
  [ -x "$HOME/.cargo/bin/cargo" ] && PATH="$HOME/.cargo/bin:$PATH"
  command -v cargo >/dev/null \
    || die "Rust 1.95 or newer is needed; install it with rustup (https://rustup.rs) and start again"
}

# PostgreSQL refuses root. As root it runs as the user 'postgres'.
as_postgres() {
  if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else (cd / && "$@"); fi
}

postgres_bin() {
  local newest
  newest=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -x "$newest/initdb" ] || die "PostgreSQL's programs are not under /usr/lib/postgresql"
  printf '%s' "$newest"
}

free_port() {
  python3 - <<'PY' 2>/dev/null || shuf -i 20000-55000 -n 1
import socket
with socket.socket() as s:
    s.bind(("127.0.0.1", 0))
    print(s.getsockname()[1])
PY
}

# Makes a private cluster in $1 where there is none: loopback only, a password
# of its own, sent in the way that $2 names.
make_cluster() {
  local folder=$1 auth=${2:-scram-sha-256} bin password
  bin=$(postgres_bin)
  [ -f "$folder/data/PG_VERSION" ] && return
  mkdir -p "$folder"
  chmod 700 "$folder"
  password=$(od -An -N18 -tx1 /dev/urandom | tr -d ' \n')
  (umask 077 && printf '%s' "$password" >"$folder/password")
  [ "$(id -u)" = 0 ] && chown -R postgres:postgres "$folder"
  as_postgres "$bin/initdb" -D "$folder/data" -U fondant --auth="$auth" \
    --pwfile="$folder/password" --encoding=UTF8 --locale=C >"$folder.log" 2>&1 \
    || { cat "$folder.log" >&2; die "the database cluster could not be made"; }
  rm -f "$folder.log"
}

# Starts the cluster in $1, further options in $2, and sets FONDANT_DATABASE_URL.
start_cluster() {
  local folder=$1 options=${2:-} bin port
  bin=$(postgres_bin)
  if as_postgres "$bin/pg_ctl" -D "$folder/data" status >/dev/null 2>&1; then
    port=$(sed -n 4p "$folder/data/postmaster.pid")
  else
    rm -f "$folder/data/postmaster.pid"
    port=$(free_port)
    as_postgres "$bin/pg_ctl" -D "$folder/data" -l "$folder/log" -w -t 60 -o \
      "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' $options" \
      start >/dev/null 9>&- || { tail -n 20 "$folder/log" >&2; die "the database did not start"; }
  fi
  export FONDANT_DATABASE_URL="postgres://fondant:$(cat "$folder/password")@127.0.0.1:$port/postgres"
}

stop_cluster() {
  local folder=$1
  [ -f "$folder/data/PG_VERSION" ] || return 0
  as_postgres "$(postgres_bin)/pg_ctl" -D "$folder/data" -m fast -w stop >/dev/null 2>&1 || true
}
