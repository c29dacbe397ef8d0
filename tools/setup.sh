#!/usr/bin/env bash
# Brings a Debian 12 machine to where Rehearsal runs: system packages, then a .venv in the project.
# Usage: tools/setup.sh [run|check|screen] ...   Sourced by ./start and ./check.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

RUN_PACKAGES="liblcms2-2 libglib2.0-0 libegl1 libgl1 libdbus-1-3 libfontconfig1 libxkbcommon0 libxcb-cursor0 \
libxkbcommon-x11-0 libxcb-icccm4 libxcb-keysyms1 libxcb-shape0 libxcb-image0 libxcb-render-util0 libxcb-xinerama0 cups-client cups-ipp-utils"
CHECK_PACKAGES="liblcms2-utils icc-profiles-free colord-data libgs-common xvfb xauth cups-daemon cups-filters poppler-utils \
desktop-file-utils appstream groff-base"
SCREEN_PACKAGES="xvfb xauth"

say() { printf 'rehearsal set-up: %s\n' "$*" >&2; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null 2>&1; then sudo "$@"
  else say "this step needs root and there is no sudo: $*"; exit 1; fi
}

install_packages() {
  command -v dpkg-query >/dev/null 2>&1 || { say "not a Debian machine; please install by hand: $*"; return 0; }
  local missing=""
  for name in "$@"; do
    dpkg-query -W -f '${Status}' "$name" 2>/dev/null | grep -q "install ok installed" || missing="$missing $name"
  done
  [ -z "$missing" ] && return 0
  say "installing Debian packages:$missing"
  as_root apt-get update -qq >/dev/null
  # shellcheck disable=SC2086
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
}

find_python() {
  for candidate in python3.11 /usr/bin/python3.11 python3 python3.12 python3.13; do
    if command -v "$candidate" >/dev/null 2>&1 &&
       "$candidate" -c 'import sys, venv, ensurepip; sys.exit(not (3, 11) <= sys.version_info[:2] <= (3, 13))' 2>/dev/null; then
      echo "$candidate"; return 0
    fi
  done
  return 1
}

make_venv() {
  local wanted="requirements.txt" stamp python
  [ "$1" = check ] && wanted="requirements.txt requirements-dev.txt"
  # shellcheck disable=SC2086
  stamp="$1 $(cat $wanted pyproject.toml | sha256sum | cut -d' ' -f1) $(pwd)"
  if [ -x .venv/bin/rehearsal ]; then
    grep -qxF "$stamp" .venv/rehearsal-stamp 2>/dev/null && return 0
    # a checked environment also runs
    [ "$1" = run ] && grep -q "^check .* $(pwd)$" .venv/rehearsal-stamp 2>/dev/null &&
      grep -qxF "check $(cat requirements.txt requirements-dev.txt pyproject.toml | sha256sum | cut -d' ' -f1) $(pwd)" \
        .venv/rehearsal-stamp && return 0
  fi
  python=$(find_python) || { say "Python 3.11, 3.12 or 3.13 with venv is needed"; exit 1; }
  if ! .venv/bin/python -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] <= (3, 13))' 2>/dev/null; then
    say "making .venv with $($python --version)"
    rm -rf .venv
    "$python" -m venv .venv
  fi
  say "installing Python packages ($wanted)"
  local list=""
  for file in $wanted; do list="$list -r $file"; done
  # what the checks never import need not be compiled
  [ "$1" = check ] && list="--no-compile $list"
  # shellcheck disable=SC2086
  .venv/bin/python -m pip install --quiet --disable-pip-version-check $list
  .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
  echo "$stamp" > .venv/rehearsal-stamp
  say "ready: .venv/bin/rehearsal"
}

set_up() {
  local packages="$RUN_PACKAGES" system
  [ "$1" = check ] && packages="$packages $CHECK_PACKAGES"
  # a Python that has to come with the packages comes first; else both are fetched at the same time
  find_python >/dev/null || install_packages python3.11 python3.11-venv
  # shellcheck disable=SC2086
  install_packages $packages & system=$!
  trap wait EXIT # packages are not left half installed when the other fails
  make_venv "$1"
  trap - EXIT
  wait "$system"
}
