# Sourced by scripts/demo and scripts/test: makes .venv from the lock file and sees to Qt's system
# libraries. The second run finds a stamp and does nothing, so it needs no network.
# shellcheck shell=bash

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
venv=$root/.venv
export PIP_DISABLE_PIP_VERSION_CHECK=1

say() { printf '%s\n' "$*" >&2; }

# Debian and Ubuntu names of what the Qt wheel links against, and the screen for machines without.
qt_packages=(libegl1 libgl1 libglib2.0-0 libdbus-1-3 libfontconfig1 libxkbcommon0 libxkbcommon-x11-0
  libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
  libxcb-shape0 libxcb-xinerama0 libxcb-xkb1)

apt_install() {
  command -v apt-get >/dev/null || return 1
  local as=()
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null && sudo -n true 2>/dev/null || return 1
    as=(sudo -n)
  fi
  say "Installing with apt: $*"
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update -qq >&2 || return 1
  # Ubuntu 24.04 renamed libglib2.0-0; ask for each package that exists there.
  local wanted=() name
  for name in "$@"; do
    if apt-cache show "$name" >/dev/null 2>&1; then wanted+=("$name")
    elif apt-cache show "${name}t64" >/dev/null 2>&1; then wanted+=("${name}t64"); fi
  done
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
    "${wanted[@]}" >&2
}

need_packages() {
  apt_install "$@" && return 0
  say "These system packages are missing and could not be installed from here:"
  say "  sudo apt-get install $*"
  exit 2
}

find_python() {
  local name
  for name in python3 python3.13 python3.12 python3.11; do
    if command -v "$name" >/dev/null &&
      "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      echo "$name"
      return 0
    fi
  done
  return 1
}

set_up() {
  local stamp want python
  stamp=$venv/.set-up
  want=$(cat "$root/requirements.lock" "$root/pyproject.toml" "$root/scripts/setup.sh" | sha256sum)
  want="$want $root"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$want" ] && return 0
  python=$(find_python) || { need_packages python3 python3-venv; python=$(find_python); } ||
    { say "Python 3.11 or newer is needed; this machine has none."; exit 2; }
  if [ ! -x "$venv/bin/python" ] || ! "$venv/bin/python" -P -m pip --version >/dev/null 2>&1; then
    say "Making the virtual environment .venv …"
    rm -rf "$venv"
    "$python" -P -m venv "$venv" 2>/dev/null || {
      rm -rf "$venv"
      need_packages python3-venv
      "$python" -P -m venv "$venv" || exit 2
    }
  fi
  say "Installing the locked packages …"
  "$venv/bin/python" -P -m pip install -q --require-hashes -r "$root/requirements.lock" >&2 ||
    { say "The packages could not be installed; the first run needs the network."; exit 2; }
  "$venv/bin/python" -P -m pip install -q --no-deps --no-build-isolation -e "$root" >&2 || exit 2
  qt_libraries
  echo "$want" >"$stamp"
}

qt_libraries() {
  local missing
  missing=$("$venv/bin/python" -P - <<'PYTHON'
import ctypes, importlib.util, pathlib
qt = pathlib.Path(importlib.util.find_spec("PyQt6").origin).parent / "Qt6"
for name in ("lib/libQt6Gui.so.6", "lib/libQt6Pdf.so.6", "plugins/platforms/libqxcb.so"):
    try:
        ctypes.CDLL(str(qt / name))
    except OSError as error:
        print(str(error).split(":")[0])
PYTHON
  )
  [ -z "$missing" ] && return 0
  say "Qt lacks: ${missing//$'\n'/, }"
  need_packages "${qt_packages[@]}"
}

need_xvfb() {
  command -v Xvfb >/dev/null && command -v xvfb-run >/dev/null || need_packages xvfb xauth
}
