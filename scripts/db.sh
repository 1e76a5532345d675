#!/usr/bin/env bash
# The private PostgreSQL cluster in .vialbench/, on loopback, on its own port.
#   db.sh start   starts it (initialised when new) and prints its URL
#   db.sh stop    stops it
#   db.sh crash   stops it as a power cut would
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"

DATA=$STATE/postgres
# The tools refuse to run as root: then the cluster belongs to the postgres user.
as_owner() { if [ "$(id -u)" -eq 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }
port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
owner() { if [ "$(id -u)" -eq 0 ]; then echo postgres; else id -un; fi; }
running() { as_owner "$BIN/pg_ctl" -D "$DATA" status >/dev/null 2>&1; }
url() { echo "postgres://$(owner)@127.0.0.1:$(cat "$PGPORT_FILE")/vialbench?sslmode=disable"; }

start() {
  [ -n "$(pg_bin)" ] || need_packages postgresql
  BIN=$(pg_bin)
  mkdir -p "$STATE"
  if [ "$(id -u)" -eq 0 ]; then
    install -d -o postgres -g postgres -m 700 "$DATA"
    runuser -u postgres -- test -x "$STATE" || { say "The postgres user cannot reach $STATE: make its parent folders readable (chmod o+x)."; exit 1; }
  else
    install -d -m 700 "$DATA"
  fi
  if ! as_owner test -f "$DATA/ready"; then # an interrupted initdb is begun again
    as_owner find "$DATA" -mindepth 1 -delete
    as_owner "$BIN/initdb" -D "$DATA" -U "$(owner)" --auth=trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null
    as_owner touch "$DATA/ready"
  fi
  if ! running; then
    local port=${VIALBENCH_PGPORT:-5484}
    if ! port_free "$port"; then
      [ -z "${VIALBENCH_PGPORT:-}" ] || { say "Port $port is taken: choose another VIALBENCH_PGPORT."; exit 1; }
      while ! port_free "$port"; do port=$((port + 1)); done
    fi
    echo "$port" >"$PGPORT_FILE"
    local try
    for try in 1 2 3 4; do # after a crash the old server may be seen for a moment
      as_owner "$BIN/pg_ctl" -D "$DATA" -l "$DATA/log" -w -t 60 \
        -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories=''" start >/dev/null && break
      [ "$try" -lt 4 ] || { say "PostgreSQL does not start; its log is $DATA/log"; exit 1; }
      sleep 1
    done
  fi
  local port
  port=$(cat "$PGPORT_FILE")
  "$BIN/psql" -qAt -h 127.0.0.1 -p "$port" -U "$(owner)" -d postgres -c "SELECT 1 FROM pg_database WHERE datname='vialbench'" | grep -q 1 ||
    "$BIN/createdb" -h 127.0.0.1 -p "$port" -U "$(owner)" vialbench
  url
}

case "${1:-}" in
  start) start ;;
  stop)
    BIN=$(pg_bin)
    if [ -n "$BIN" ] && [ -d "$DATA" ] && running; then as_owner "$BIN/pg_ctl" -D "$DATA" -m fast -w stop >/dev/null; fi
    ;;
  crash)
    BIN=$(pg_bin)
    as_owner "$BIN/pg_ctl" -D "$DATA" -m immediate -w stop >/dev/null
    ;;
  *) say "usage: db.sh start|stop|crash"; exit 2 ;;
esac
