"""What all tests of a run use is made once, by whichever process comes first."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Callable
from pathlib import Path

import pytest


def run_folder(factory: pytest.TempPathFactory) -> Path:
    """The folder that all processes of this run of tests share."""
    own = factory.getbasetemp()
    return own.parent if os.environ.get("PYTEST_XDIST_WORKER") else own


def made_once(factory: pytest.TempPathFactory, name: str, make: Callable[[Path], object]) -> Path:
    """A file or folder of the run; ``make`` gets its path, in one process while the others wait."""
    path = run_folder(factory) / name
    done = path.with_name(f"{name}.made")
    with path.with_name(f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not done.exists():
            make(path)
            done.touch()
    return path
