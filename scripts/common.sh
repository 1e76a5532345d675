# Shared by the scripts: where things are, and how to get what is missing.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
ROOT=$PWD
STATE=${VIALBENCH_STATE:-$ROOT/.vialbench}
PGPORT_FILE=$STATE/port
say() { printf '%s\n' "$*" >&2; }

# need_packages NAME... installs Debian packages, or says what to install.
need_packages() {
  local run=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then run=(sudo); else
      say "Missing: $*. Install them first:  sudo apt-get install $*"
      exit 1
    fi
  fi
  command -v apt-get >/dev/null || { say "Missing: $*. Install them with your system's package manager."; exit 1; }
  say "Installing $*"
  "${run[@]}" apt-get update -qq >&2
  "${run[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq -o DPkg::Lock::Timeout=120 --no-install-recommends "$@" >&2
}

need_toolchain() {
  command -v go >/dev/null || { say "Go is missing: install Go $(awk '/^go /{print $2}' go.mod) or newer."; exit 1; }
  command -v npm >/dev/null || { say "Node.js is missing: install Node.js 20 with npm."; exit 1; }
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1; }
