#!/usr/bin/env bash
# Compiles the program and its array loops where they are kept beside the source; answers are thrown away.
set -euo pipefail
cd "$(dirname "$0")/.."
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
export XDG_DATA_HOME="$folder" XDG_CACHE_HOME="$folder"
.venv/bin/python -m compileall -q src/rehearsal >/dev/null
data=src/rehearsal/data/demo
picture=$data/pictures/dyed_cloths.jpg
given=("$picture" --paper "$data/profiles/SK24_WhiteDune_Hi.icc")
printf '{"steps": [{"origin": "hand", "values": {"lightness": 0.2, "strength": 4, "warmth": 3}}]}' > "$folder/recipe.json"
.venv/bin/rehearsal judge "${given[@]}" --screen "$data/profiles/desk-screen-wide.icc" --recipe "$folder/recipe.json" --json >/dev/null
.venv/bin/rehearsal sheet "${given[@]}" --size 9x6cm --sheet A4 --ppi 100 --sharpen 60 --surface gloss --out "$folder/page.tif" >/dev/null
