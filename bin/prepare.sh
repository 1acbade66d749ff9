# Shared by bin/start and bin/test: installs what is missing and builds what has changed.

say() { printf '%s\n' "$*" >&2; }

# need PROGRAM PACKAGE …: installs Debian packages for programs that are not there.
need() {
  local missing=()
  while [ $# -gt 0 ]; do
    command -v "$1" >/dev/null 2>&1 || [ -x "/usr/sbin/$1" ] || missing+=("$2")
    shift 2
  done
  [ ${#missing[@]} -eq 0 ] && return
  local install="apt-get update && apt-get install -y ${missing[*]}"
  if [ "$(id -u)" = 0 ]; then
    say "Installing ${missing[*]} …"
    { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}"; } >&2 || { say "Could not install ${missing[*]}. Run by hand: $install"; exit 1; }
  elif sudo -n true 2>/dev/null; then
    say "Installing ${missing[*]} …"
    { sudo -n apt-get update -qq && sudo -n DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}"; } >&2 || { say "Could not install ${missing[*]}. Run by hand: sudo sh -c '$install'"; exit 1; }
  else
    say "${missing[*]} is missing and cannot be installed without an administrator. Run: sudo sh -c '$install'"
    exit 1
  fi
}

need_node() {
  command -v node >/dev/null 2>&1 || { say "Node.js is missing. Install version 20.19 or newer first."; exit 1; }
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' || { say "Node.js $(node -v) is too old: 20.19 or newer is needed."; exit 1; }
}

# Packages as the lock file has them; their install scripts are not run, because none is needed.
install_modules() {
  local stamp=node_modules/.kettle-installed
  cmp -s package-lock.json "$stamp" 2>/dev/null && return
  say "Installing packages …"
  npm ci --ignore-scripts --no-audit --no-fund --loglevel=error >&2
  cp package-lock.json "$stamp"
}

# Builds when any source is newer than the last build.
build() {
  local stamp=var/built
  if [ -f "$stamp" ] && [ -z "$(find core contract demo server stand-ins e2e bench web package-lock.json tsconfig.base.json -newer "$stamp" \
      -not -path '*/node_modules/*' -not -path '*/dist/*' -not -path '*/.angular/*' -not -path '*/test-results/*' -not -name '*.wasm' -type f -print -quit)" ]; then return; fi
  say "Building …"
  mkdir -p var
  touch "$stamp.now"
  npm run --silent build >var/build.log 2>&1 || { cat var/build.log >&2; say "The build failed."; exit 1; }
  mv "$stamp.now" "$stamp"
}
