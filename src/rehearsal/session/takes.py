"""Named operations on takes and pictures."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.file import Picture
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import space_path
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.session.book import Book, Operation, operation_words
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.library import Library
from rehearsal.session.now import Now
from rehearsal.session.shelf import Shelf
from rehearsal.tasks.conditions import condition_from, new_condition
from rehearsal.tasks.finding import PROFILE_ENDINGS, look_at
from rehearsal.tasks.opening import Opened, new_masters
from rehearsal.workbook.values import Marks, Master, Take


class Takes:
    """What can be done with takes, and with the pictures they are of."""

    def __init__(self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf, library: Library, now: Now) -> None:
        self._book, self._bus, self._jobs = book, bus, jobs
        self._shelf, self._library, self._now = shelf, library, now
        self._removed: Take | None = None

    @property
    def masters(self) -> list[Master]:
        """All masters."""
        return self._book.all(Master)

    def of(self, master: int) -> list[Take]:
        """Takes of a master."""
        return [t for t in self._book.all(Take) if t.master == master]

    # ---- files

    def open_files(self, paths: list[str]) -> None:
        """Take pictures into the workbook and open the last; profiles become print conditions."""
        pictures = []
        for path in map(Path, paths):
            try:
                if path.suffix.lower() == ".zip":
                    self._take_archive(path)
                elif path.is_dir():
                    self._library.add_folder(path)
                    self._bus.say(f"{path.name} is looked through for profiles from now on.")
                elif path.suffix.lower() in PROFILE_ENDINGS:
                    self._add_profile(path)
                else:
                    pictures.append(path)
            except RehearsalError as error:
                self._bus.say_error(error)
        if pictures:
            self._jobs.run(Job("open", tuple(pictures)), lambda p: new_masters(pictures, p), self._on_opened)

    def add_profile(self, path: Path) -> None:
        """A new condition for a profile file, with what its names suggest; chosen at once."""
        try:
            kept = self._add_profile(path)
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        if kept is not None:
            self.choose_condition(kept)

    def _add_profile(self, path: Path) -> PrintCondition | None:
        found = look_at(path)
        return self._shelf.add(new_condition(path) if found.reason else condition_from(found)[0])

    def _take_archive(self, path: Path) -> None:
        """Profiles out of an archive, each with its instruction sheet, onto the shelf."""
        made = self._library.take_archive(path)
        before = len(self._shelf.conditions)
        for each in made:
            self._add_profile(each)
        count = len(self._shelf.conditions) - before
        self._bus.say(f"{count} new on the shelf from {path.name}; please check the fields read out of the names.")

    def _on_opened(self, found: Opened) -> None:
        known = {m.digest: m for m in self.masters}
        wanted = [
            replace(known[m.digest], path=m.path, modified=m.modified) if m.digest in known else m
            for m in found.masters
        ]
        kept = self._book.do("open-pictures", wanted) if wanted else []
        self._bus.tell("masters")
        if kept:
            self.open_master(kept[-1], found.last)
        for error in found.errors:
            self._bus.say_error(error)

    # ---- opening

    def open_master(self, master: Master, ahead: Picture | None = None) -> None:
        """Open a master's last take, making a first one when it has none."""
        takes = self.of(master.id)
        take = takes[-1] if takes else self._first_take(master)
        if take is not None:
            self._now.open_take(take, ahead)

    def _first_take(self, master: Master) -> Take | None:
        conditions = self._shelf.conditions
        condition = self._now.condition or (conditions[0] if conditions else None)
        if condition is None:
            srgb = PrintCondition(paper="sRGB file for a lab", profile_path=space_path("sRGB"), made_by="standard")
            condition = self._shelf.add(srgb)
        if condition is None:
            return None
        take = Take(master=master.id, condition=condition.id, name=condition.paper, rendering=condition.default)
        kept = self._book.do("new-take", [take])
        self._bus.tell("takes")
        return kept[0] if kept else None

    def open(self, take: Take) -> None:
        """Show a take."""
        self._now.open_take(take)

    def duplicate(self) -> None:
        """A new take that starts as the open one."""
        take = self._now.take
        if take is None:
            return
        kept = self._book.do("new-take", [replace(take, id=0, name=f"{take.name}, again", written=None)])
        if kept:
            self._now.open_take(kept[0])
            self._bus.tell("takes")

    def remove(self, take: Take) -> None:
        """Take a take off the rack; the master stays, and the take can be put back."""
        self._book.do("remove-take", removes=[take])
        if self._book.get(Take, take.id) is not None:
            return
        self._removed = take
        self._leave(take)
        self._bus.tell("takes")

    def _leave(self, gone: Take) -> None:
        """Open another take when this one was open."""
        if self._now.take is None or self._now.take.id != gone.id:
            return
        rest, master = self.of(gone.master), self._book.get(Master, gone.master)
        if rest:
            self._now.open_take(rest[-1])
        elif master is not None:
            self.open_master(master)

    @property
    def removed(self) -> Take | None:
        """The take that was removed last, while it is still gone."""
        return self._removed if self._removed is not None and self._book.get(Take, self._removed.id) is None else None

    def restore(self) -> None:
        """Put the take that was removed last back on the rack, and open it."""
        take, self._removed = self.removed, None
        if take is not None and self._book.get(Master, take.master) is not None and self._book.do("new-take", [take]):
            self._now.open_take(take)
            self._bus.tell("takes")

    def assume(self, space: str) -> None:
        """Read the open untagged master as a working space from now on."""
        master = self._now.master
        if master is not None and self._book.do("assume", [replace(master, assumed=space)]):
            self._now.read_again()

    # ---- changes of the open take

    def change(self, operation: str = "change-take", **fields: Any) -> None:
        """One undoable change of the open take; kept at once."""
        take = self._now.take
        if take is None:
            return
        made = replace(take, **fields)
        if made != take and self._book.do(operation, [made]):
            self._now.become(made)

    def change_frame(self, **fields: Any) -> None:
        """Another crop, size or fit."""
        if self._now.take is not None:
            self.change("frame", frame=replace(self._now.take.frame, **fields))

    def change_hand_over(self, **fields: Any) -> None:
        """Another route, file, or setting where it is printed."""
        if self._now.take is not None:
            self.change("hand-over", hand_over=replace(self._now.take.hand_over, **fields))

    def change_sheet(self, **fields: Any) -> None:
        """Another sheet."""
        if self._now.take is not None:
            self.change("sheet", sheet=replace(self._now.take.sheet, **fields))

    def change_recipe(self, recipe: Recipe) -> None:
        """Another tuning."""
        self.change("recipe", recipe=recipe)

    def keep_looks(self) -> None:
        """Take a recipe of an earlier arithmetic as the present one shows it."""
        if self._now.take is not None and self._now.take.recipe.is_old:
            self.change("keep-looks", recipe=self._now.take.recipe.renewed)

    def render(self, rendering: Rendering) -> None:
        """Another intent or compensation."""
        self.change("rendering", rendering=rendering)

    def mark(self, **fields: Any) -> None:
        """Other pins, or another line."""
        marks = self._now.take.marks if self._now.take else Marks()
        self.change("marks", marks=replace(marks, **fields))

    def choose_condition(self, condition: PrintCondition) -> None:
        """Rehearse for another paper. A rendering the user has set stays; else the paper's own default comes with it."""
        take = self._now.take
        if take is None:
            return
        own = take.name not in [c.paper for c in self._shelf.conditions]
        name = take.name if own else condition.paper
        before = self._shelf.get(take.condition)
        untouched = before is None or take.rendering == before.default
        rendering = condition.default if untouched or condition.prescribed else take.rendering
        self.change("condition", condition=condition.id, name=name, rendering=rendering)

    # ---- undo

    def undo(self) -> None:
        """Take back the last operation, whatever it was about."""
        done = self._book.undo()
        if done is not None:
            self._follow(done, "Taken back")

    def redo(self) -> None:
        """Do it again."""
        done = self._book.redo()
        if done is not None:
            self._follow(done, "Done again")

    def _follow(self, done: Operation, verb: str) -> None:
        """Show what an operation changed: the take it was done on, or the lists; say it where the open take does not show it."""
        here = self._now.take
        self._bus.tell(*done.topics)
        target = self._book.get(Take, done.take)
        if here is not None and self._book.get(Take, here.id) is None:
            self._open_instead(here, target)
        elif target is not None and here is not None and target.id != here.id:
            self._now.open_take(target)
        elif here is not None:
            fresh = self._book.get(Take, here.id)
            if fresh is not None and fresh != here:
                self._now.become(fresh)
        self._bus.say(f"{verb}: {operation_words(done.name)}.")

    def _open_instead(self, gone: Take, target: Take | None) -> None:
        rest = self.of(gone.master) or self._book.all(Take)
        if target is not None or rest:
            self._now.open_take(target or rest[-1])
        else:
            self._now.close_take()
