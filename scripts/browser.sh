#!/usr/bin/env bash
# Playwright on Debian's Chromium against a server of its own with a new database.
#   browser.sh test [arguments of playwright test]
#   browser.sh screenshots
#   browser.sh measure [arguments]
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
command -v chromium >/dev/null || need_packages chromium
project=$1
shift
VIALBENCH_TEST_DATABASE_URL=$("$ROOT/scripts/db.sh" start)
export VIALBENCH_TEST_DATABASE_URL
cd e2e
exec npx playwright test --project="$project" "$@"
