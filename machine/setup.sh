# Setting up a machine and the services of Grey Latch. Sourced by bin/start and bin/test; does nothing by itself.
# Every function can be called again: what is done already is left alone.

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
PG_BIN=/usr/lib/postgresql/15/bin
RUN_PACKAGES=(python3-venv postgresql-15 postgresql-15-postgis-3 redis-server libgdal32 libgeos-c1v5 libegl1 libgl1 libfontconfig1 procps fonts-noto-core fonts-noto-cjk)
TEST_PACKAGES=(chromium gdal-bin)

say() { printf '· %s\n' "$*"; }
die() { printf 'Cannot go on: %s\n' "$*" >&2; exit 1; }

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

need_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  command -v apt-get >/dev/null || die "these Debian packages are missing and there is no apt-get: ${missing[*]}"
  [ "$(id -u)" = 0 ] || command -v sudo >/dev/null || die "install these as root, then start again: apt-get install ${missing[*]}"
  say "Installing Debian packages: ${missing[*]}"
  # Debian would start a cluster and a server of its own; this project runs its own, so that is kept from happening.
  as_root mkdir -p /etc/postgresql-common/createcluster.d
  echo "create_main_cluster = false" | as_root tee /etc/postgresql-common/createcluster.d/greylatch.conf >/dev/null
  as_root dpkg --configure -a >/dev/null 2>&1 || true  # an installation that was cut off is finished first
  as_root apt-get update -qq || die "apt-get update failed; is the network or a mirror there?"
  as_root env DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y -qq --no-install-recommends -o Dpkg::Options::=--force-confold "${missing[@]}" >"${TMPDIR:-/tmp}/greylatch-apt.log" 2>&1 \
    || die "apt-get could not install: ${missing[*]} (see ${TMPDIR:-/tmp}/greylatch-apt.log)"
}

find_python() {
  local candidate
  for candidate in python3.11 python3 /usr/bin/python3; do
    if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null; then
      echo "$candidate"; return
    fi
  done
  die "Python 3.11 is missing"
}

# need_python run|test: the virtual environment with exactly what the lock says.
need_python() {
  local lock="$ROOT/requirements/$1.lock" stamp="$ROOT/.venv/.lock-$1" sum
  sum=$(cat "$lock" "$ROOT/core/pyproject.toml" | sha256sum | cut -d' ' -f1)
  [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  # The test lock holds everything that the run lock holds, at the same versions.
  if [ "$1" = run ] && [ -x "$ROOT/.venv/bin/pytest" ] && [ -e "$ROOT/.venv/.lock-test" ]; then need_python test; return; fi
  local python; python=$(find_python) || exit 1
  # One that was cut off while being made has no pip yet.
  "$ROOT/.venv/bin/python" -m pip --version >/dev/null 2>&1 || rm -rf "$ROOT/.venv"
  [ -x "$ROOT/.venv/bin/python" ] || { say "Making the virtual environment"; "$python" -m venv "$ROOT/.venv" || die "python -m venv failed"; }
  say "Installing Python packages from requirements/$1.lock"
  "$ROOT/.venv/bin/python" -m pip install -q --disable-pip-version-check --require-hashes -r "$lock" 2>"$ROOT/.venv/pip.log" \
    || { tail -n 5 "$ROOT/.venv/pip.log" >&2; die "pip could not install requirements/$1.lock"; }
  "$ROOT/.venv/bin/python" -m pip install -q --disable-pip-version-check --no-deps -e "$ROOT/core" 2>>"$ROOT/.venv/pip.log" \
    || die "pip could not install the core (see .venv/pip.log)"
  echo "$sum" >"$stamp"
}

need_node_modules() {
  command -v node >/dev/null && command -v npm >/dev/null || die "Node 20 with npm is missing"
  [ "$(node -p 'Number(process.versions.node.split(".")[0]) >= 20')" = true ] || die "Node 20 or newer is needed, here is $(node --version)"
  local sum; sum=$(sha256sum <"$ROOT/web/package-lock.json" | cut -d' ' -f1)
  [ "$(cat "$ROOT/web/node_modules/.lock" 2>/dev/null)" = "$sum" ] && return
  say "Installing front-end packages from web/package-lock.json"
  (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error >/dev/null) || die "npm ci failed"
  echo "$sum" >"$ROOT/web/node_modules/.lock"
}

web_sum() { (cd "$ROOT" && find web/src web/*.html web/*.ts web/package-lock.json core/greylatch/lettering/fonts -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1); }
web_is_built() { [ "$(cat "$ROOT/web/dist/.built" 2>/dev/null)" = "$(web_sum)" ] && [ -e "$ROOT/core/greylatch/edition/page/reader.js" ]; }

need_web() {
  web_is_built && return
  local sum; sum=$(web_sum)
  need_node_modules
  say "Building the interface"
  (cd "$ROOT/web" && npm run --silent build >"${TMPDIR:-/tmp}/greylatch-build.log" 2>&1) || { tail -n 20 "${TMPDIR:-/tmp}/greylatch-build.log" >&2; die "the build failed"; }
  "$ROOT/.venv/bin/python" -m whitenoise.compress -q "$ROOT/web/dist/assets"
  echo "$sum" >"$ROOT/web/dist/.built"
}

# need_python_and_node run|test: side by side, since each waits for a registry or the disk most of the time.
need_python_and_node() {
  set -m  # a group of its own, which Ctrl-C ends whole
  need_node_modules & local node=$!
  set +m
  trap "kill -- -$node 2>/dev/null; exit 130" INT TERM
  need_python "$1"
  wait "$node" || exit 1
  trap - INT TERM
}

# need_compiled: what draws maps is compiled before two processes of the web server start, which each would wait for it at once.
# Asks for open_run_folder.
need_compiled() {
  local sum
  sum=$(cd "$ROOT" && find core/greylatch -name "*.py" -print0 | sort -z | xargs -0 sha256sum | cat - .venv/.lock-* | sha256sum | cut -d' ' -f1)
  [ "$(cat "$ROOT/.venv/.compiled" 2>/dev/null)" = "$sum" ] && return
  say "Compiling what draws maps"
  (cd "$ROOT/server" && "$ROOT/.venv/bin/python" -W ignore -c "import config.wsgi") || die "what draws maps cannot be compiled"
  echo "$sum" >"$ROOT/.venv/.compiled"
}

free_port() { "$ROOT/.venv/bin/python" -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }
port_is_free() { "$ROOT/.venv/bin/python" -c 'import socket, sys; s = socket.socket(); s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1); s.bind(("127.0.0.1", int(sys.argv[1])))' "$1" 2>/dev/null; }

answers() { "$ROOT/.venv/bin/python" -c 'import sys, urllib.request; urllib.request.urlopen(sys.argv[1])' "$1" 2>/dev/null; }
secret() { "$ROOT/.venv/bin/python" -c 'import secrets; print(secrets.token_urlsafe(40))'; }

# PostgreSQL refuses to run as root; then it runs as the user that its package made.
as_pg() { if [ "$(id -u)" = 0 ]; then (cd / && setpriv --reuid=postgres --regid=postgres --init-groups "$@"); else "$@"; fi; }

# start_postgres FOLDER: a cluster of its own on loopback; exports how to reach it. Sets STARTED_PG where it was not running.
start_postgres() {
  local run="$1"
  PG_DATA="$run/postgres"
  if [ "$(id -u)" = 0 ] && ! as_pg test -x "$run"; then
    # A checkout under a closed home folder: the database's user cannot go there.
    PG_DATA="/var/lib/postgresql/greylatch-$(echo "$run" | sha256sum | cut -c1-12)"
  fi
  [ -s "$run/db-password" ] || (umask 077; secret >"$run/db-password")
  if [ ! -s "$PG_DATA/PG_VERSION" ]; then
    say "Creating the database"
    # Made beside its place and moved there when it is whole: one that was cut off is begun anew.
    rm -rf "$PG_DATA" "$PG_DATA.new" && mkdir -p "$PG_DATA.new" && chmod 700 "$PG_DATA.new"
    [ "$(id -u)" = 0 ] && chown postgres:postgres "$PG_DATA.new"
    local words; words=$(mktemp); cat "$run/db-password" >"$words"; [ "$(id -u)" = 0 ] && chown postgres "$words"
    as_pg "$PG_BIN/initdb" -D "$PG_DATA.new" -U greylatch --auth=scram-sha-256 --pwfile="$words" -E UTF8 --locale=C.UTF-8 >"$run/initdb.log" 2>&1 || die "initdb failed (see $run/initdb.log)"
    rm -f "$words"
    mv "$PG_DATA.new" "$PG_DATA"
  fi
  export GREYLATCH_DB_HOST=127.0.0.1 GREYLATCH_DB_USER=greylatch PGPASSWORD
  GREYLATCH_DB_PASSWORD=$(cat "$run/db-password"); PGPASSWORD=$GREYLATCH_DB_PASSWORD; export GREYLATCH_DB_PASSWORD
  # What a killed server left behind may name a process that is somebody else's by now, so it has to answer as well.
  GREYLATCH_DB_PORT=$(sed -n 4p <(as_pg cat "$PG_DATA/postmaster.pid" 2>/dev/null) || true); export GREYLATCH_DB_PORT
  if [ -n "$GREYLATCH_DB_PORT" ] && as_pg "$PG_BIN/pg_ctl" -D "$PG_DATA" status >/dev/null 2>&1 \
      && "$PG_BIN/pg_isready" -q -h 127.0.0.1 -p "$GREYLATCH_DB_PORT" -t 20; then
    [ -z "${OWNER:-}" ] || STARTED_PG=$PG_DATA
  else
    GREYLATCH_DB_PORT=$(free_port); export GREYLATCH_DB_PORT
    as_pg "$PG_BIN/pg_ctl" -D "$PG_DATA" -w -t 60 -l "$PG_DATA/server.log" \
      -o "-c listen_addresses=127.0.0.1 -c port=$GREYLATCH_DB_PORT -c unix_socket_directories='' -c shared_buffers=256MB -c jit=off ${PG_OPTIONS:-}" start >/dev/null 2>&1 \
      || die "PostgreSQL did not start (see $PG_DATA/server.log)"
    STARTED_PG=$PG_DATA
  fi
  psql -h 127.0.0.1 -p "$GREYLATCH_DB_PORT" -U greylatch -d postgres -qtAc "SELECT 1 FROM pg_database WHERE datname = 'greylatch'" | grep -q 1 \
    || psql -h 127.0.0.1 -p "$GREYLATCH_DB_PORT" -U greylatch -d postgres -qc "CREATE DATABASE greylatch"
}

stop_postgres() { [ -n "${STARTED_PG:-}" ] && { as_pg "$PG_BIN/pg_ctl" -D "$STARTED_PG" -m fast -w -t 20 stop || as_pg "$PG_BIN/pg_ctl" -D "$STARTED_PG" -m immediate -w -t 10 stop; } >/dev/null 2>&1; STARTED_PG=; }

# start_redis FOLDER: as above.
start_redis() {
  local run="$1" port
  if [ -s "$run/redis.port" ] && [ "$(redis-cli -p "$(cat "$run/redis.port")" config get dir 2>/dev/null | tail -n 1)" = "$(cd "$run" && pwd -P)" ]; then
    port=$(cat "$run/redis.port")
    [ -z "${OWNER:-}" ] || STARTED_REDIS=$port
  else
    port=$(free_port)
    redis-server --bind 127.0.0.1 --port "$port" --dir "$run" --daemonize yes --pidfile "$run/redis.pid" --logfile "$run/redis.log" --save "" --appendonly no >/dev/null \
      || die "Redis did not start (see $run/redis.log)"
    echo "$port" >"$run/redis.port"
    STARTED_REDIS=$port
  fi
  export GREYLATCH_REDIS="redis://127.0.0.1:$port/0"
}

stop_redis() { [ -n "${STARTED_REDIS:-}" ] && timeout 10 redis-cli -p "$STARTED_REDIS" shutdown nosave >/dev/null 2>&1; STARTED_REDIS=; }

# open_run_folder FOLDER: where databases, files and secrets of one installation live.
open_run_folder() {
  mkdir -p "$1/static"
  chmod 711 "$1"
  [ -s "$1/secret-key" ] || (umask 077; secret >"$1/secret-key")
  export GREYLATCH_RUN="$1" PYTHONPATH="$ROOT/server:$ROOT/demo" DJANGO_SETTINGS_MODULE=config.settings
}

manage() { "$ROOT/.venv/bin/python" "$ROOT/server/manage.py" "$@"; }
