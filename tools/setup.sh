# Shared by ./start, ./test, ./bench and ./shots: system libraries and the Python environment. Quick when all is there.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

say() { printf '%s\n' "$*" >&2; }

# library file -> Debian package, Fedora package, Arch package
LIBRARIES="
libxcb-cursor.so.0 libxcb-cursor0 xcb-util-cursor xcb-util-cursor
libxkbcommon-x11.so.0 libxkbcommon-x11-0 libxkbcommon-x11 libxkbcommon-x11
libxcb-icccm.so.4 libxcb-icccm4 xcb-util-wm xcb-util-wm
libxcb-image.so.0 libxcb-image0 xcb-util-image xcb-util-image
libxcb-keysyms.so.1 libxcb-keysyms1 xcb-util-keysyms xcb-util-keysyms
libxcb-render-util.so.0 libxcb-render-util0 xcb-util-renderutil xcb-util-renderutil
libxcb-shape.so.0 libxcb-shape0 libxcb libxcb
libxcb-xinerama.so.0 libxcb-xinerama0 libxcb libxcb
libGL.so.1 libgl1 mesa-libGL libglvnd
libEGL.so.1 libegl1 mesa-libEGL libglvnd
libdbus-1.so.3 libdbus-1-3 dbus-libs dbus
libfontconfig.so.1 libfontconfig1 fontconfig fontconfig
libXrender.so.1 libxrender1 libXrender libxrender
libXt.so.6 libxt6 libXt libxt
"

install_packages() { # what for, packages for apt, dnf, pacman
  local what="$1" apt="$2" dnf="$3" pacman="$4" command=""
  if command -v apt-get >/dev/null; then command="apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $apt"
  elif command -v dnf >/dev/null; then command="dnf install -y -q $dnf"
  elif command -v pacman >/dev/null; then command="pacman -Sy --noconfirm --needed $pacman"
  else say "Missing: $what ($apt). Install it with your system's package manager, then run this again."; exit 1; fi
  if [ "$(id -u)" = 0 ]; then
    say "Installing $what: $apt"
    sh -c "$command" >/dev/null
  else
    say "Missing: $what. Run this once, then try again:"
    say "  sudo sh -c '$command'"
    exit 1
  fi
}

system_libraries() {
  local known apt="" dnf="" pacman="" file a d p
  known="$( (ldconfig -p || /sbin/ldconfig -p) 2>/dev/null || true)"
  while read -r file a d p; do
    [ -n "$file" ] || continue
    case "$known" in *"$file"*) ;; *) apt="$apt $a"; dnf="$dnf $d"; pacman="$pacman $p";; esac
  done <<<"$LIBRARIES"
  [ -z "$apt" ] || install_packages "system libraries for the window" "$apt libgl1-mesa-dri" "$dnf mesa-dri-drivers" "$pacman mesa"
}

virtual_display() {
  if ! command -v Xvfb >/dev/null || ! command -v xauth >/dev/null; then
    install_packages "a virtual display" "xvfb xauth" "xorg-x11-server-Xvfb xorg-x11-xauth" "xorg-server-xvfb xorg-xauth"
  fi
}

python_environment() {
  local python="" want candidate
  for candidate in python3.11 python3.12 python3.13 python3; do
    if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      python="$candidate"; break
    fi
  done
  [ -n "$python" ] || { say "Fravik needs Python 3.11 or newer."; exit 1; }
  want="$(cat requirements.txt pyproject.toml | cksum) $("$python" -V) $PWD"
  [ "$(cat .venv/.ready 2>/dev/null || true)" != "$want" ] || return 0
  say "Setting up the Python environment in .venv (a minute or two, once)…"
  if ! "$python" -m venv --clear .venv >/dev/null 2>&1; then
    install_packages "Python's venv" "python3-venv" "python3" "python"
    "$python" -m venv --clear .venv
  fi
  .venv/bin/python -m pip install -q --disable-pip-version-check -r requirements.txt
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps -e .
  printf '%s' "$want" >.venv/.ready
}

compiled_parts() { # compiled at first use otherwise, in each process that comes to it; made again only when its source is newer
  [ ! -e .venv/.compiled ] || [ -n "$(find fravik -name '*.py' -newer .venv/.compiled -exec grep -lm1 '^@njit' {} + | head -1)" ] || return 0
  .venv/bin/python -m tools.compile_once && touch .venv/.compiled
}

drawn_once() { # display or virtual, then what runs a command there: each may have another graphics driver, which compiles at its first use
  local mark=".venv/.drawn-$1"; shift
  [ ! -e "$mark" ] || return 0
  say "Preparing 3D pictures (some seconds, once)…"
  if "$@" .venv/bin/python -m tools.draw_once >/dev/null; then touch "$mark"
  else say "They could not be prepared: the first look at one will take longer."; fi
}

on_virtual_display() { # runs a command under Xvfb, without its start-up chatter
  xvfb-run -a -s "-screen 0 2400x1200x24" "$@"
}
