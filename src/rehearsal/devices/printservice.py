"""The system's print service, through its own command-line clients (lp, lpstat, lpoptions, cancel and ipptool of
CUPS; Debian packages cups-client, cups-ipp-utils).

What the clients print is read in the plain locale. Nothing here waits for a person: each call ends within seconds.
"""

from __future__ import annotations

import csv
import os
import re
import shutil
import subprocess
import tempfile
from collections.abc import Sequence
from pathlib import Path
from urllib.parse import quote

from rehearsal.core.errors import QueueError, system_words
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.sheet.pdffile import write_pdf
from rehearsal.core.values.queue import QueueOffers, QueueOption, SentState

_PATIENCE_SECONDS = 15
#: A large page is handed over as a file; the client copies it.
_SENDING_SECONDS = 300
#: Names of settings by what they are about: PWG 5100 names and those that Debian's drivers use.
_ROLES = {
    "size": ("PageSize", "media", "media-size"), "media": ("MediaType", "media-type"), "feed": ("InputSlot", "media-source"),
    "quality": ("cupsPrintQuality", "print-quality", "PrintQuality", "OutputMode", "Quality"),
    "mode": ("ColorModel", "print-color-mode", "ColorMode"), "speed": ("HighSpeed", "Speed"), "coat": ("GlossCoat", "Coating"),
    "ink": ("BlackInk", "InkType"),
}  # fmt: skip
_ROLE_OF = {name.lower(): role for role, names in _ROLES.items() for name in names}
_OPTION = re.compile(r"^(?P<key>[^/:]+)(?:/(?P<words>[^:]*))?: ?(?P<choices>.*)$")
_SENT = re.compile(r"request id is (\S+)")
#: States of a job (RFC 8011) by ours.
_STATES = {
    "pending": "waiting", "pending-held": "held", "processing": "printing", "canceled": "stopped", "aborted": "failed",
    "completed": "done",
}  # fmt: skip
_ASKING = """{
OPERATION Get-Job-Attributes
GROUP operation-attributes-tag
ATTR charset attributes-charset utf-8
ATTR language attributes-natural-language en
ATTR uri printer-uri $uri
ATTR integer job-id $job
DISPLAY job-state
DISPLAY job-state-reasons
DISPLAY job-printer-state-message
}
"""
_PAIR = re.compile(r"([^\s=]+)(?:=('(?:[^'\\]|\\.)*'|\S*))?")
_NO = {"false", "no", "off", "0"}


def is_there() -> bool:
    """True when the clients are installed."""
    return all(shutil.which(name) for name in ("lp", "lpstat", "lpoptions", "cancel"))


def _run(command: Sequence[str], seconds: float = _PATIENCE_SECONDS) -> str:
    """What a client says.

    Raises:
        QueueError: it is not there, does not answer, or refuses; in its own words.
    """
    try:
        done = subprocess.run(
            list(command), capture_output=True, text=True, timeout=seconds, check=False, stdin=subprocess.DEVNULL,
            env={**os.environ, "LC_ALL": "C"}, errors="replace",
        )  # fmt: skip
    except FileNotFoundError as error:
        raise QueueError(
            "the print service's own programs are missing", command[0], "install the package cups-client"
        ) from error
    except subprocess.TimeoutExpired as error:
        raise QueueError(
            "the print service does not answer", command[0], "see whether it runs, and try again"
        ) from error
    except (OSError, ValueError) as error:
        raise QueueError(f"the print service cannot be asked ({error})", command[0], "try again") from error
    if done.returncode != 0:
        said = " ".join((done.stderr or done.stdout).split()) or "no reason given"
        raise QueueError(
            f"the print service refuses: {said[:200]}", command[0], "see whether it runs and the queue is there"
        )
    return done.stdout


def queue_names() -> list[str]:
    """Names of all queues; none where there is no print service.

    Raises:
        QueueError: it does not answer.
    """
    return _run(["lpstat", "-e"]).split() if is_there() else []


class ServiceQueue:
    """One queue of the system's print service.

    Args:
        name: as the service knows it.
    """

    def __init__(self, name: str) -> None:
        self.name = name

    def offers(self) -> QueueOffers:
        """What can be set there, and how it stands now.

        Raises:
            QueueError: there is no such queue, or the service does not answer.
        """
        if self.name not in queue_names():
            raise QueueError("there is no such queue", self.name, "see lpstat -e for those that are there")
        saved = read_saved(_run(["lpoptions", "-p", self.name]))
        try:
            options = read_options(_run(["lpoptions", "-p", self.name, "-l"]), saved)
        except QueueError:  # a queue without a driver of its own has nothing to set
            options = ()
        return QueueOffers(self.name, options, scale_of(saved), stopped_words(_run(["lpstat", "-p", self.name])))

    def send(self, page: DrawnPage, title: str, options: Sequence[tuple[str, str]]) -> str:
        """Send a page as it is fed, unscaled, with every setting named; answers with the number it got there.

        Raises:
            QueueError: it was not taken, or there is no room for it.
        """
        with tempfile.TemporaryDirectory(prefix="rehearsal-") as folder:
            file = Path(folder) / "page.pdf"
            try:
                write_pdf(page, str(file))
            except OSError as error:
                raise QueueError(
                    f"the page cannot be made ({system_words(error)})", self.name, "free some space"
                ) from error
            return self.send_file(file, title, options)

    def send_file(self, page: Path, title: str, options: Sequence[tuple[str, str]]) -> str:
        """Send a file that is a page; raises QueueError as :meth:`send`."""
        chosen = [part for key, value in options for part in ("-o", f"{key}={value}")]
        said = _run(
            [
                "lp",
                "-d",
                self.name,
                "-t",
                title,
                "-o",
                "print-scaling=none",
                "-o",
                "number-up=1",
                *chosen,
                "--",
                str(page),
            ],
            _SENDING_SECONDS,
        )
        found = _SENT.search(said)
        if found is None:
            raise QueueError("the print service gave no number", self.name, "look at its queue")
        return found.group(1)

    def state(self, job: str) -> SentState:
        """How far a page has come.

        Raises:
            QueueError: the service does not answer.
        """
        told = self._told(job)
        if told is not None:
            return told
        if _lists(_run(["lpstat", "-W", "not-completed", "-o", self.name]), job):
            stopped = stopped_words(_run(["lpstat", "-p", self.name]))
            return SentState("held", stopped) if stopped else SentState("printing")
        return SentState("done", "it has left the queue; how, the service's programs do not tell here")

    def _told(self, job: str) -> SentState | None:
        """The state by the service's own number for it; None where the program that asks for it (ipptool) is missing."""
        if shutil.which("ipptool") is None:
            return None
        host = _run(["lpstat", "-H"]).strip()
        at = f"ipp://{'localhost:631' if host.startswith('/') else host}/printers/{quote(self.name)}"
        with tempfile.TemporaryDirectory() as folder:
            asking = Path(folder) / "job.test"
            asking.write_text(_ASKING)
            said = _run(["ipptool", "-c", "-d", f"job={job.rpartition('-')[2]}", at, str(asking)])
        rows = [row for row in csv.reader(said.splitlines()) if row][1:]
        if not rows:
            return SentState("failed", "the queue does not know it any more")
        state, reasons, words = (rows[0] + ["", ""])[:3]
        key = _STATES.get(state, "printing")
        if key == "printing" and "stopped" in state:
            key = "failed" if "error" in reasons else "held"
        plain = " ".join((words or "").split())
        return SentState(key, plain if key in ("held", "failed", "stopped") else "")

    def stop(self, job: str) -> None:
        """Take a page back.

        Raises:
            QueueError: it has gone already, or the service does not answer.
        """
        _run(["cancel", job])

    def unscale(self) -> None:
        """Take scaling out of the queue's saved options.

        Raises:
            QueueError: the service does not answer.
        """
        _run(["lpoptions", "-p", self.name, *(part for key in _SCALING for part in ("-r", key))])


def _lists(said: str, job: str) -> bool:
    """True when a list of jobs names this one."""
    return any(line.split()[:1] == [job] for line in said.splitlines())


#: Settings by which a queue's owner may have it scale.
_SCALING = ("scaling", "natural-scaling", "fit-to-page", "fitplot", "print-scaling", "number-up")


def read_saved(text: str) -> dict[str, str]:
    """A queue's saved options, as ``lpoptions -p`` prints them."""
    return {m.group(1): (m.group(2) or "").strip("'") for m in _PAIR.finditer(text)}


def scale_of(saved: dict[str, str]) -> float:
    """Per cent to which saved options scale a page; 0 when they fit it to the sheet."""
    for key in ("natural-scaling", "scaling"):
        try:
            scale = float(saved.get(key, "100"))
        except ValueError:
            continue
        if scale != 100:
            return scale
    fits = [saved[key].lower() for key in ("fit-to-page", "fitplot") if key in saved]
    return (
        0.0
        if any(value not in _NO for value in fits) or saved.get("print-scaling") in ("fit", "fill", "auto-fit")
        else 100.0
    )


def read_options(text: str, saved: dict[str, str]) -> tuple[QueueOption, ...]:
    """A queue's settings, as ``lpoptions -p QUEUE -l`` prints them; what was saved for them counts as set."""
    found = []
    for line in text.splitlines():
        match = _OPTION.match(line.strip())
        if match is None:
            continue
        key, listed = match["key"], match["choices"].split()
        choices = tuple(choice.lstrip("*") for choice in listed)
        marked = next((choice[1:] for choice in listed if choice.startswith("*")), "")
        default = saved.get(key, marked) if saved.get(key, marked) in choices else marked
        found.append(QueueOption(key, match["words"] or key, choices, default, _ROLE_OF.get(key.lower(), "")))
    return tuple(found)


def stopped_words(said: str) -> str:
    """Why nothing goes through a queue, by what ``lpstat -p`` says; empty while it works."""
    first, _, rest = said.strip().partition("\n")
    if "disabled" not in first:
        return ""
    why = " ".join(rest.split())
    return f"it is stopped{f': {why}' if why and why != 'reason unknown' else ''}"
