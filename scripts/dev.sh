#!/usr/bin/env bash
# The server, and Vite with hot reload in front of it.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
need_toolchain
VIALBENCH_DATABASE_URL=${VIALBENCH_DATABASE_URL:-$("$ROOT/scripts/db.sh" start)}
export VIALBENCH_DATABASE_URL
trap 'kill $(jobs -p) 2>/dev/null || true' EXIT
go run ./cmd/vialbench demo &
npm -w frontend run dev
