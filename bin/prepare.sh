# Shared by everything in bin: installs what is missing and builds what has changed.

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
  local version; version=$(node -v); version=${version#v}
  local major=${version%%.*} rest=${version#*.}
  [ "$major" -gt 20 ] || { [ "$major" -eq 20 ] && [ "${rest%%.*}" -ge 19 ]; } || { say "Node.js v$version is too old: 20.19 or newer is needed."; exit 1; }
}

# Packages as the lock file has them, as far as they are needed: «page» is what the interface is built with, «product»
# all that a start needs, «all» what tests, benches and linters need too. Their install scripts are not run, because
# none is needed. An install that was killed leaves a mark, and the next one begins anew.
MODULES=node_modules/.kettle
install_modules() {
  local wanted=$1 have='' rank='none page product all '
  [ -f "$MODULES" ] && cmp -s package-lock.json "$MODULES.lock" && have=$(cat "$MODULES")
  [ ! -f "$MODULES.coming" ] || have=''
  local before=${rank%%"${have:-none} "*} enough=${rank%%"$wanted "*}
  [ ${#before} -lt ${#enough} ] || return 0
  local quiet=(--ignore-scripts --no-audit --no-fund --no-progress --prefer-offline --loglevel=error) part=()
  [ "$wanted" = all ] || part=(--omit=dev)
  [ "$wanted" = page ] && part+=(-w @kettle/web --include-workspace-root)
  if [ -n "$have" ]; then
    touch "$MODULES.coming"
    # Adds what is missing to what is there; the lock file stays as it is.
    npm install --no-save "${quiet[@]}" "${part[@]}" >&2 || return 1
  else
    say "Installing packages …"
    rm -rf node_modules web/node_modules
    mkdir -p node_modules
    npm ci "${quiet[@]}" "${part[@]}" >&2 || return 1
  fi
  # Maps for debuggers of other people's code: a fifth of all files, and nothing here reads them.
  find node_modules web/node_modules -name '*.map' -delete 2>/dev/null || true
  cp package-lock.json "$MODULES.lock"
  printf '%s' "$wanted" >"$MODULES"
  rm -f "$MODULES.coming"
}

# newer STAMP PATH …: whether anything in there is newer than the stamp.
newer() {
  local stamp=$1; shift
  [ ! -f "$stamp" ] || [ -n "$(find "$@" -newer "$stamp" \
    -not -path '*/node_modules/*' -not -path '*/dist/*' -not -path '*/.angular/*' -not -path '*/test-results/*' -not -path 'web/public/*.wasm' -type f -print -quit)" ]
}

# build PART PATH …: builds a part (see scripts/build.mjs) when any of its sources is newer than its last build.
build() {
  local part=$1 stamp="var/built-$1" log="var/$1.log"; shift
  newer "$stamp" "$@" scripts/build.mjs package-lock.json || return 0
  mkdir -p var
  rm -f "$stamp"
  touch "$stamp.now"
  # The compiler would take as much memory as it is given before it tidies up, and is no quicker with it.
  node --max-old-space-size=512 scripts/build.mjs "$part" >"$log" 2>&1 || { cat "$log" >&2; say "The build failed."; return 1; }
  mv "$stamp.now" "$stamp"
}
NODE_SOURCES=(core contract demo/src server/src stand-ins)
build_product() { build product "${NODE_SOURCES[@]}"; }
build_faces() { build faces server/fonts server/src/render/text/font-catalogue.ts server/src/render/text; }
build_page() { build page core/src core/kernels contract/src web; }
# All of it, specifications too: they are part of what is translated, so nothing is translated twice.
build_node() { build node "${NODE_SOURCES[@]}" bench && cp -p var/built-node var/built-product; }
