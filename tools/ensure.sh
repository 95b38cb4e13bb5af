# What start and verify need on a fresh Debian machine with Node 20.
ensure_node() {
  command -v node >/dev/null || { echo "Node 20 is needed; install it first." >&2; exit 1; }
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    { echo "Node 20.19 or newer is needed; this is $(node --version)." >&2; exit 1; }
}

# Each argument is COMMAND:PACKAGE; the packages of missing commands are installed together.
ensure_debian() {
  local missing=() pair
  export PATH="$PATH:/usr/sbin:/sbin"
  for pair in "$@"; do command -v "${pair%%:*}" >/dev/null || missing+=("${pair#*:}"); done
  [ "${#missing[@]}" -eq 0 ] && return
  echo "Installing ${missing[*]} …"
  local root=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || { echo "Please install as root: apt-get install ${missing[*]}" >&2; exit 1; }
    root=(sudo)
  fi
  local log
  log=$(mktemp)
  if ! { "${root[@]}" apt-get update && DEBIAN_FRONTEND=noninteractive "${root[@]}" apt-get install -y --no-install-recommends "${missing[@]}"; } >"$log" 2>&1; then
    tail -n 20 "$log" >&2
    echo "These Debian packages could not be installed: ${missing[*]}" >&2
    exit 1
  fi
}

ensure_npm() {
  if [ ! -f node_modules/.package-lock.json ] || [ package-lock.json -nt node_modules/.package-lock.json ]; then
    echo "Installing npm packages …"
    npm ci --no-audit --no-fund --loglevel=error
    touch node_modules/.package-lock.json
  fi
}
