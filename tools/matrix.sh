#!/usr/bin/env bash
# Installs the package into an empty environment of each Python it names, opens the demo there, judges a picture, and runs tests.
# What is not installed is skipped.   tools/matrix.sh [TESTS...]
set -euo pipefail
cd "$(dirname "$0")/.."
tests=("${@:-tests/core}")
for version in 3.11 3.12 3.13; do
  python=""
  for candidate in "python$version" "$HOME/.pyenv/versions/$version"*/bin/python; do
    if "$candidate" -c 'import ensurepip' 2>/dev/null; then python=$candidate; break; fi
  done
  [ -n "$python" ] || { echo "== Python $version: skipped, not installed"; continue; }
  folder=$(mktemp -d)
  trap 'rm -rf "$folder"' EXIT
  echo "== $("$python" --version)"
  "$python" -m venv "$folder/env"
  "$folder/env/bin/python" -m pip install --quiet --disable-pip-version-check --no-cache-dir ".[checks]"
  export XDG_DATA_HOME="$folder/data" XDG_CACHE_HOME="$folder/cache" QT_QPA_PLATFORM=offscreen
  data=$("$folder/env/bin/python" -c 'from rehearsal.demo.make import demo_folder; print(demo_folder())')
  "$folder/env/bin/rehearsal" judge "$data/pictures/dyed_cloths.jpg" --paper "$data/profiles/SK24_WhiteDune_Hi.icc" --json | cut -c1-120
  "$folder/env/bin/rehearsal" --demo --picture "$folder/window.png"
  "$folder/env/bin/python" -m pytest -n 2 -p no:cacheprovider "${tests[@]}"
done
