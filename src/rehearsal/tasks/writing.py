"""Writing what goes to the printer: the print file with its ticket, the test sheet. One way for window and commands."""

from __future__ import annotations

import os
from dataclasses import dataclass, replace
from pathlib import Path

from rehearsal.core.errors import PictureError
from rehearsal.core.picture.write import exists, write_picture
from rehearsal.core.sheet.printfile import file_profile, make_pixels, suggest_name
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.sheet.ticket import make_ticket
from rehearsal.core.sheet.ticketpage import write_ticket_pdf
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.files import same_file
from rehearsal.core.work.progress import Progress, part_of, silent
from rehearsal.workbook.values import Written


def file_name(rendition: Rendition, condition: PrintCondition, picture_path: str) -> str:
    """Name that carries printer, paper and intent, with the ending of the file's format."""
    hand_over = rendition.hand_over
    printer = condition.printer if hand_over.route == "printer" else f"{condition.printer} {hand_over.space}".strip()
    return suggest_name(picture_path, printer, condition.paper, rendition.rendering, hand_over.file.suffix)


@dataclass(frozen=True)
class Target:
    """Where something is written.

    Attributes:
        path: the file.
        protected: files that are never written to, besides the rendition's own master: all masters of the rack, profiles in use.
        replace: a file of that name may be replaced.
    """

    path: Path
    protected: tuple[str, ...] = ()
    replace: bool = True

    def check(self, opened: OpenRendition | None = None) -> None:
        """Raise before long work when nothing may be, or can be, written there; ``opened`` has a master of its own."""
        masters = (*(() if opened is None else (opened.open.picture.info.path,)), *self.protected)
        if any(same_file(self.path, master) for master in masters if master):
            raise PictureError(
                "an opened picture or a profile in use is never written to", self.path, "choose another file name"
            )
        if not self.replace and (self.path.exists() or self.path.is_symlink()):
            raise exists(self.path)
        check_writable(self.path)


def write_print_file(opened: OpenRendition, target: Target | Path, progress: Progress = silent) -> Written:
    """Write the print file of a rendition; answers with the rendition it was given."""
    target = target if isinstance(target, Target) else Target(target)
    path = target.path
    target.check(opened)
    pixels = make_pixels(opened, part_of(progress, 0.0, 0.95))
    progress(0.95, "writing")
    write_picture(pixels, file_profile(opened)[0], opened.rendition.hand_over.ppi, path, target.replace)
    return Written(str(path), opened.rendition)


@dataclass(frozen=True)
class WrittenTicket:
    """A file and its ticket; ``ticket_error`` is a sentence when only the ticket could not be written."""

    written: Written
    ticket: str = ""
    ticket_error: str = ""


def write_with_ticket(
    opened: OpenRendition, request: TicketRequest, target: Target | Path, progress: Progress = silent
) -> WrittenTicket:
    """Write the print file, and beside it the ticket of the same rendition.

    Args:
        request: as it stood when the file was asked for.
    """
    return with_ticket(write_print_file(opened, target, progress), request)


def with_ticket(written: Written, request: TicketRequest) -> WrittenTicket:
    """The ticket of a written file's rendition, beside it."""
    path = Path(written.file)
    try:
        ticket = make_ticket(replace(request, rendition=written.rendition, file=str(path)))
        page = _free(path.with_suffix(".ticket.pdf"))
        write_ticket_pdf(ticket, page, replace=False)
    except PictureError as error:
        return WrittenTicket(written, ticket_error=error.words())
    return WrittenTicket(written, str(page))


def _free(path: Path) -> Path:
    """A name that no file has yet: the ticket replaces nothing unasked."""
    found, count = path, 2
    while found.exists() or found.is_symlink():
        found, count = path.with_name(f"{path.stem} {count}{path.suffix}"), count + 1
    return found


def check_writable(path: Path) -> None:
    """Raise before long work when the folder is missing or cannot be written to."""
    folder = path.parent
    if not folder.is_dir():
        raise PictureError("the folder is missing", folder, "choose another folder")
    if not os.access(folder, os.W_OK):
        raise PictureError("the folder cannot be written to", folder, "choose another folder")
