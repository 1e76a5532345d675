#!/usr/bin/env bash
# All checks, from a bare machine with Go and Node.js. Ends with the runners' own
# closing lines.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
need_toolchain
command -v chromium >/dev/null || need_packages chromium
command -v gcc >/dev/null || need_packages gcc libc6-dev # the race detector is linked by it
command -v pdftotext >/dev/null || need_packages poppler-utils
"$ROOT/scripts/db.sh" start >/dev/null
make --no-print-directory generated-current build lint
make --no-print-directory test-go 2>&1 | tee "$STATE/test-go.log"
make --no-print-directory test-browser 2>&1 | tee "$STATE/test-browser.log"
say ""
grep -E '^(ok|FAIL|---)' "$STATE/test-go.log"
grep -E '^ +[0-9]+ (passed|failed|flaky|skipped)' "$STATE/test-browser.log"
