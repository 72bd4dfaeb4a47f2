# Sourced by ./start and ./test: install what is missing, and nothing that is there. Needs git, Python 3.11, Node 20.

say() { printf '%s\n' "$*" >&2; }

# Debian packages by a file each of them brings, so that asking costs nothing.
debian_packages() {
  local missing=()
  compgen -G '/usr/lib/postgresql/*/bin/postgres' >/dev/null || missing+=(postgresql)
  command -v setpriv >/dev/null || missing+=(util-linux)
  if [ "$1" = test ]; then
    [ -x /usr/bin/chromium ] || missing+=(chromium fonts-liberation2)
    # What is written is read back by programs that did not write it.
    command -v pdftoppm >/dev/null || missing+=(poppler-utils)
    command -v exiftool >/dev/null || missing+=(libimage-exiftool-perl)
    command -v rsvg-convert >/dev/null || missing+=(librsvg2-bin)
  fi
  [ ${#missing[@]} -eq 0 ] && return 0
  local run=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null; then run=(sudo); else
      say "Missing: ${missing[*]}. Install them as root (apt-get install ${missing[*]}), then run this again."
      exit 1
    fi
  fi
  say "Installing ${missing[*]} ..."
  "${run[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update -q >/dev/null
  "${run[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "${missing[@]}" >/dev/null
}

stamp_of() { cat "$@" | sha256sum | cut -d' ' -f1; }

# What the program runs with, or for `test` that and what the tests need besides; an environment for tests serves both.
python_packages() {
  local mode=$1 lock runtime tests current
  runtime=runtime-$(stamp_of requirements.lock models.lock setup.sh)
  tests=tests-$(stamp_of tests.lock models.lock setup.sh)
  current=$(cat .venv/.stamp 2>/dev/null || true)
  [ "$current" = "$tests" ] && return 0
  # What was once an environment for tests stays one.
  if [ "$mode" = test ] || [[ "$current" = tests-* ]]; then lock=tests.lock; else
    [ "$current" = "$runtime" ] && return 0
    lock=requirements.lock
  fi
  say "Installing Python packages (about 15 s) ..."
  [ -x .venv/bin/python ] || "$(python_311)" -m venv .venv
  local uv; uv=$(grep -oE '^uv==[0-9.]+' requirements.lock)
  .venv/bin/python -m uv --version >/dev/null 2>&1 || .venv/bin/pip install -q --disable-pip-version-check "$uv"
  VIRTUAL_ENV="$PWD/.venv" .venv/bin/python -m uv pip sync -q --require-hashes "$lock" models.lock
  # The command, usable from any folder.
  printf '#!/bin/sh\nPYTHONPATH="%s" exec "%s/.venv/bin/python" -m warmtide "$@"\n' "$PWD" "$PWD" >.venv/bin/warmtide
  chmod +x .venv/bin/warmtide
  if [ "$lock" = tests.lock ]; then echo "$tests"; else echo "$runtime"; fi >.venv/.stamp
}

# Byte code, once: where Python may not write it, every process would compile a thousand files anew at each start.
byte_code() {
  local stamp; stamp=$(stamp_of .venv/.stamp)
  if [ "$(cat .venv/.compiled 2>/dev/null)" != "$stamp" ]; then
    say "Compiling Python packages (about 15 s) ..."
    .venv/bin/python -m compileall -q -j 0 -x '/(tests?|mypy|f2py/tests|pip|setuptools|mediapipe)/' .venv/lib/python3.11/site-packages >/dev/null 2>&1 || true
    echo "$stamp" >.venv/.compiled
  fi
  # Files that have not changed since are passed over.
  .venv/bin/python -m compileall -q warmtide demo >/dev/null 2>&1 || true
}

python_311() {
  local name
  for name in python3.11 python3; do
    if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))'; then
      command -v "$name"; return 0
    fi
  done
  say "Python 3.11 is needed (Debian 12 has it: apt-get install python3 python3-venv)."
  exit 1
}

frontend_stamp() {
  find frontend/src frontend/public frontend/index.html frontend/vite.config.ts frontend/package-lock.json \
    -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1
}

frontend() {
  local locked built current
  locked=$(stamp_of frontend/package-lock.json)
  built=$(frontend_stamp)
  current=$(cat frontend/dist/.stamp 2>/dev/null || true)
  if [ "$1" = runtime ] && [ "$current" = "$built" ]; then return 0; fi
  command -v npm >/dev/null || { say "Node 20 with npm is needed."; exit 1; }
  if [ "$(cat frontend/node_modules/.stamp 2>/dev/null)" != "$locked" ]; then
    say "Installing the front end's packages (about 20 s) ..."
    (cd frontend && npm ci --loglevel error --no-audit --no-fund) ||
      { say "The front end's packages could not be installed; npm's messages stand above."; return 1; }
    echo "$locked" >frontend/node_modules/.stamp
  fi
  [ "$current" = "$built" ] && return 0
  say "Building the front end (about 10 s) ..."
  (cd frontend && npx vite build --logLevel error 2>/dev/null || npx vite build --logLevel warn) ||
    { say "The front end could not be built; what is wrong stands above."; return 1; }
  gzip -9kf frontend/dist/assets/*.js frontend/dist/assets/*.css
  echo "$built" >frontend/dist/.stamp
}

# Kernels of the look that a new study begins with, so that nobody waits for them.
first_kernels() {
  [ -n "$(compgen -G "$WARMTIDE_KERNELS/*/whole-*" || true)" ] && return 0
  say "Compiling the first look's kernels (about 15 s) ..."
  .venv/bin/python -m warmtide.work.warm watercolour
}

set_up() {
  debian_packages "$1"
  # The front end and Python side by side: either takes one core.
  frontend "$1" & local front=$!
  python_packages "$1"
  byte_code
  first_kernels
  wait "$front"
}
