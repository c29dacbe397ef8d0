"""The maintainers' tools run, in their fast form: what they print of times says nothing here."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_benchmarks_run_on_small_pictures() -> None:
    command = [sys.executable, str(ROOT / "tools" / "benchmark.py"), "--fast", "lines", "accuracy", "page"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-800:]
    for told in ("of the exact road", "worst gap of a share", "page of 1 Mpx, TIFF, 8 bit", "PDF, tuned and sharpened"):
        assert told in done.stdout
