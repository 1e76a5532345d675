#!/usr/bin/env bash
# Breaks everything that can break, for some minutes, and counts what is lost. It has a
# database cluster of its own, which it kills too.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
need_toolchain
export VIALBENCH_STATE=$STATE/faults VIALBENCH_PGPORT=${VIALBENCH_FAULTS_PGPORT:-5494}
mkdir -p "$VIALBENCH_STATE"
trap '"$ROOT/scripts/db.sh" stop' EXIT
VIALBENCH_TEST_DATABASE_URL=$("$ROOT/scripts/db.sh" start)
export VIALBENCH_TEST_DATABASE_URL VIALBENCH_FAULTS_CRASH="'$ROOT/scripts/db.sh' crash && '$ROOT/scripts/db.sh' start"
go test ./internal/faults -count=1 -v -timeout 15m -args -faults.for "${FOR:-3m}" -faults.seed "${SEED:-$RANDOM}"
