"""Files the user gives: pictures onto the rack, profiles, folders and archives onto the shelf."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.file import check_picture
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import in_row, word
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.library import Library
from rehearsal.session.now import Now
from rehearsal.session.shelf import Shelf
from rehearsal.session.takes import Takes
from rehearsal.tasks.adding import Added, is_profile, read_profiles
from rehearsal.tasks.opening import Opened, new_masters
from rehearsal.workbook.home import data_home
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.values import Master


class Incoming:
    """Takes in what is dropped, chosen in a dialog or named at the start; files are read in the background."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf, library: Library, now: Now, takes: Takes
    ) -> None:
        self._book, self._bus, self._jobs = book, bus, jobs
        self._shelf, self._library, self._now, self._takes = shelf, library, now, takes

    def open_files(self, paths: list[str]) -> None:
        """Take pictures into the workbook and open the last; profiles and archives become print conditions to be looked at."""
        files = [Path(p) for p in paths]
        folders = [p for p in files if p.is_dir()]
        profiles = [p for p in files if p not in folders and is_profile(p)]
        pictures = [p for p in files if p not in folders and p not in profiles]
        for folder in folders:
            self._library.add_folder(folder)
            self._bus.say(f"{folder.name} is looked through for profiles from now on.")
        if profiles:
            home = data_home()
            job, asked = Job("add", tuple(profiles)), self._now.take

            def answer(found: Added) -> None:
                take = self._now.take
                # whoever has gone on to another take meanwhile is not called back
                stays = bool(pictures) or asked is None or (take is not None and take.id == asked.id)
                self._on_added(found, stays)

            printers = self._shelf.printers
            self._jobs.run(job, lambda p: read_profiles(profiles, home, p, printers), answer, alone=False)
        if pictures:
            self._jobs.run(Job("open", tuple(pictures)), lambda p: new_masters(pictures, p), self._on_opened)

    # ---- pictures

    def _on_opened(self, found: Opened) -> None:
        known = {m.digest: m for m in self._takes.masters}
        wanted = [
            replace(known[m.digest], path=m.path, modified=m.modified) if m.digest in known else m
            for m in found.masters
        ]
        kept = self._book.do("open-pictures", wanted) if wanted else []
        self._bus.tell("masters")
        if kept:
            self._takes.open_master(kept[-1], found.last)
        for error in found.errors:
            self._bus.say_error(error)

    def found_again(self, master: Master, path: Path) -> None:
        """The user has said where a picture's file is; another content counts as a changed picture."""

        def work(_progress: JobProgress) -> Master:
            check_picture(path)
            return replace(make_master(path), id=master.id, name=master.name, assumed=master.assumed)

        def answer(found: Master) -> None:
            if found.digest == master.digest:
                self._book.note(found)
            else:
                self._book.do("accept-master", [found])
            self._bus.tell("masters")
            if self._now.take is not None and self._now.take.master == master.id:
                self._now.read_again()

        self._jobs.run(Job("accept", (master, path)), work, answer)

    # ---- profiles

    def _on_added(self, found: Added, look: bool = True) -> None:
        before = {c.id for c in self._shelf.conditions}
        kept = [each for each in map(self._shelf.add, found.conditions) if each is not None]
        new = [c for c in kept if c.id not in before]
        self._library.look()
        if kept and look:
            self._now.look_at(kept[-1])
            self._bus.tell("added")
        self._bus.say(added_words(new, [c for c in kept if c.id in before], found.errors, look))

    def add(self, condition: PrintCondition) -> None:
        """A condition the user has gone through by hand: onto the shelf, and looked at."""
        self._on_added(Added((condition,), ()))


def added_words(
    new: list[PrintCondition], known: list[PrintCondition], errors: tuple[RehearsalError, ...] = (), shown: bool = True
) -> str:
    """What happened to profiles that were given, in sentences; ``shown``: the last of them is looked at."""
    parts = []
    if len(new) == 1:
        read = new[0].fields_that_are("read")
        check = f" Only read from its name: {in_row([word('field', f) for f in read])}." if read else ""
        parts.append(f"{new[0].name} is new on the shelf and not chosen yet.{check}")
    elif new:
        last = f"{new[-1].name} is shown, none is chosen yet" if shown else "none is chosen yet"
        parts.append(f"{len(new)} papers are new on the shelf; {last}.")
    if len(known) == 1:
        parts.append(f"{known[0].name} is already on the shelf.")
    elif known:
        parts.append(f"{len(known)} were on the shelf already.")
    parts += [error.words() for error in errors[:2]]
    if len(errors) > 2:
        parts.append(f"{len(errors) - 2} more could not be used.")
    return " ".join(parts)
