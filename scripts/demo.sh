#!/usr/bin/env bash
# Everything a fresh machine needs, then the application with the sample records.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
need_toolchain
make --no-print-directory build >&2
if [ -z "${VIALBENCH_DATABASE_URL:-}" ]; then
  VIALBENCH_DATABASE_URL=$("$ROOT/scripts/db.sh" start)
  export VIALBENCH_DATABASE_URL
  say "PostgreSQL runs on 127.0.0.1:$(cat "$PGPORT_FILE"); make db-stop stops it."
fi
exec bin/vialbench demo
