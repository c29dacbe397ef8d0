"""A private print daemon: what is asked of it, and one line about what it did when that is not what it was."""

from __future__ import annotations

import re
import subprocess
import time
from dataclasses import dataclass
from pathlib import Path

import pytest

from rehearsal.devices.printservice import ServiceQueue

_PATIENCE_SECONDS = 60.0


@dataclass(frozen=True)
class PrintRig:
    """The daemon's folder; its one queue's printer is a file."""

    folder: Path

    @property
    def printer(self) -> Path:
        """The file that is the printer."""
        return self.folder / "out" / "job.prn"

    @property
    def log(self) -> str:
        """All the daemon has written of itself."""
        return (self.folder / "log" / "error_log").read_text(errors="replace")

    def empty(self) -> None:
        """Nothing has arrived: since a security update of 2026 the daemon neither makes nor cuts the file it prints to."""
        with self.printer.open("wb"):
            pass
        self.printer.chmod(0o666)

    def settled(self, job: str, *keys: str) -> str:
        """Wait for a job to become one of these; the test fails with what the daemon did instead."""
        queue, end = ServiceQueue("skarn24"), time.monotonic() + _PATIENCE_SECONDS
        while (key := queue.state(job).key) not in keys:
            if time.monotonic() > end:
                pytest.fail(self._instead(job, key, " or ".join(keys)), pytrace=False)
            time.sleep(0.05)
        return key

    def arrived(self, job: str) -> Path:
        """What came out of the printer for a job, once all of it has."""
        self.settled(job, "done")
        data = self.printer.read_bytes()
        if not data.rstrip().endswith(b"%%EOF"):
            pytest.fail(self._instead(job, f"{len(data)} bytes that are no whole PDF", "a page"), pytrace=False)
        return self.printer

    def _instead(self, job: str, found: str, wanted: str) -> str:
        version = subprocess.run(
            ["dpkg-query", "-W", "-f", "${Version}", "cups-daemon"], capture_output=True, text=True, check=False
        )
        errors = [line for line in self.log.splitlines() if re.match(r"[EW] ", line)] or self.log.splitlines()
        return f"cups-daemon {version.stdout}: {job} is {found}, not {wanted}; its log ends: {errors[-1] if errors else ''}"
