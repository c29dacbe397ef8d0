"""Named operations on takes and pictures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import count, islice
from typing import Any

from rehearsal.core.picture.file import Picture
from rehearsal.core.sheet.framing import by_hand
from rehearsal.core.sheet.onsheet import on_sheet
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import space_path
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.sheet import Several, Sheet
from rehearsal.core.values.words import rendering_short
from rehearsal.session.book import Book, Operation, operation_words
from rehearsal.session.bus import Bus
from rehearsal.session.habits import Habits, begun, steps_for_another_paper
from rehearsal.session.now import Now
from rehearsal.session.shelf import Shelf
from rehearsal.workbook.values import AnyKept, Marks, Master, Take

#: Operations that are a hand on crop or size: what a way of laying changed before is not gone back to after them.
_BY_HAND = ("frame", "recrop", "mend")


def _numbered(name: str) -> Iterator[str]:
    """A name, and with numbers from 2 on."""
    yield name
    yield from (f"{name} {i}" for i in count(2))


def sharpened_for(hand_over: HandOver, spread: float) -> HandOver:
    """What is handed over, sharpened for a paper of this spread (µm); not at all for one nobody knows."""
    spread = spread if hand_over.sharpen > 0 else 0.0
    return replace(hand_over, sharpen=hand_over.sharpen if spread else 0.0, sigma_um=spread)


def _on_another_paper(sheet: Sheet) -> Sheet:
    """A packed sheet is of one paper: alone on another one."""
    return replace(sheet, several=Several()) if sheet.several.way == "packed" else sheet


#: Under which it is kept that a file of a working space was asked for.
_FILE_WANTED = "file wanted"


class Takes:
    """What can be done with takes, and with the pictures they are of."""

    def __init__(self, book: Book, bus: Bus, shelf: Shelf, now: Now, habits: Habits) -> None:
        self._book, self._bus, self._shelf, self._now, self._habits = book, bus, shelf, now, habits
        self._removed: tuple[str, list[AnyKept]] | None = None

    @property
    def masters(self) -> list[Master]:
        """All masters."""
        return self._book.all(Master)

    def of(self, master: int) -> list[Take]:
        """Takes of a master."""
        return [t for t in self._book.all(Take) if t.master == master]

    def master_of(self, take: Take) -> Master | None:
        """The picture a take is of."""
        return self._book.get(Master, take.master)

    def name_of(self, take: Take) -> str:
        """Its own name, or paper and intent, with a number where another take of the picture is called so already."""
        if take.name:
            return take.name
        plain, others = self._plain_name(take), self.of(take.master)
        same = [t.id for t in others if not t.name and self._plain_name(t) == plain]
        place = same.index(take.id) if take.id in same else len(same)
        given = {t.name for t in others}
        free = (name for name in _numbered(plain) if name not in given)
        return next(islice(free, place, None))

    def _plain_name(self, take: Take) -> str:
        condition = self._shelf.get(take.condition)
        return f"{condition.paper if condition else 'no paper'}, {rendering_short(take.rendering)}"

    def rename(self, take: Take, name: str) -> None:
        """Another name, with a number where another take of the picture is called so; an empty one lets it name itself again."""
        fresh = self._book.get(Take, take.id)  # it may have been tuned since it was listed
        wanted = name.strip()
        if fresh is not None and wanted:
            taken = {self.name_of(t) for t in self.of(fresh.master) if t.id != fresh.id}
            wanted = next(each for each in _numbered(wanted) if each not in taken)
        made = None if fresh is None else replace(fresh, name=wanted)
        if made is not None and made != fresh and self._book.do("name-take", [made]):
            here = self._now.take
            if here is not None and here.id == made.id:
                self._now.become(made)
            self._bus.tell("takes")

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
        take = Take(master=master.id, condition=condition.id, rendering=condition.default)
        kept = self._book.do("new-take", [begun(take, master, self._habits.all, condition)])
        self._bus.tell("takes")
        return kept[0] if kept else None

    def open(self, take: Take) -> None:
        """Show a take, as it is kept now."""
        self._now.open_take(self._book.get(Take, take.id) or take)

    def duplicate(self) -> None:
        """A new take that starts as the open one."""
        take = self._now.take
        if take is None:
            return
        kept = self._book.do("new-take", [replace(take, id=0, name="", written=None, ticked=())])
        if kept:
            self._now.open_take(kept[0])
            self._bus.tell("takes")

    def remove(self, take: Take) -> None:
        """Take a take off the rack; the picture stays, and the take can be put back."""
        name = self.name_of(take)
        self._take_off("remove-take", name, [take])
        self._say_off(name)

    def remove_picture(self, master: Master) -> None:
        """Take a picture with its takes off the rack; its file is left alone, the logbook keeps what was printed of it."""
        self._take_off("remove-picture", master.name, [master, *self.of(master.id)])
        self._say_off(master.name)

    def _say_off(self, name: str) -> None:
        if self.removed == name:
            self._bus.say(f"{name} is off the rack.", "undo")

    def _take_off(self, operation: str, name: str, gone: list[AnyKept]) -> None:
        self._book.do(operation, removes=gone)
        if self._book.get(type(gone[0]), gone[0].id) is not None:
            return
        self._removed = (name, gone)
        self._bus.tell("takes", "masters")
        here = self._now.take
        if here is None or self._book.get(Take, here.id) is not None:
            return
        master = self._book.get(Master, here.master)
        if master is not None and not self.of(master.id):
            self.open_master(master)  # a picture on the rack has a take
        else:
            self._open_instead(here, None)

    @property
    def removed(self) -> str:
        """Name of what was taken off the rack last, while it is still gone; empty when there is nothing to put back."""
        if self._removed is None:
            return ""
        name, values = self._removed
        return name if self._book.get(type(values[0]), values[0].id) is None else ""

    def restore(self) -> None:
        """Put back on the rack what was taken off last, and open it."""
        name, removed = self.removed, self._removed
        self._removed = None
        if not name or removed is None:
            return
        takes = [v for v in removed[1] if isinstance(v, Take)]
        if (
            takes
            and not any(isinstance(v, Master) for v in removed[1])
            and self._book.get(Master, takes[0].master) is None
        ):
            return  # its picture is gone as well
        if self._book.do("put-back", removed[1]):
            self._bus.tell("takes", "masters")
            if takes:
                self._now.open_take(takes[-1])

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
        if operation in _BY_HAND and "frame" in fields:
            fields["frame"] = by_hand(fields["frame"], take.frame)
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

    def sharpen(self, per_cent: float) -> None:
        """Sharpen the print for its paper by so much, 0 to 150 per cent; nothing while nobody has told its surface."""
        take, condition = self._now.take, self._now.condition
        if take is not None and condition is not None:
            made = sharpened_for(
                replace(take.hand_over, sharpen=min(max(per_cent, 0.0), 150.0)), self._shelf.spread_of(condition)
            )
            self.change("hand-over", hand_over=made)

    def change_sheet(self, **fields: Any) -> None:
        """Another sheet."""
        if self._now.take is not None:
            self.change("sheet", sheet=replace(self._now.take.sheet, **fields))

    def choose_sheet(self, name: str) -> None:
        """Another sheet by name: a print it does not hold becomes as large as it can be there."""
        take, picture = self._now.take, self._now.picture
        if take is None:
            return
        frame = take.frame if picture is None else on_sheet(take.frame, take.sheet.name, name, *picture.size)
        self.change("sheet", frame=frame, sheet=replace(take.sheet, name=name))

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

    # ---- choosing a paper

    @property
    def is_worked(self) -> bool:
        """True when the open take is tuned or written for its paper: another paper then deserves a take of its own."""
        take = self._now.take
        return take is not None and (not take.recipe.is_neutral or take.written is not None)

    def choose(self, condition: PrintCondition) -> None:
        """Choose a paper: a worked take stays as it is and a new one is made, any other goes over to the paper."""
        if self.is_worked:
            self.take_on(condition)
        else:
            self.choose_condition(condition)

    def new_on_looked(self) -> None:
        """A new take on the paper that is looked at, if one is."""
        if self._now.looked is not None:
            self.take_on(self._now.looked)

    def take_over_to_looked(self) -> None:
        """The open take goes over to the paper that is looked at, if one is."""
        if self._now.looked is not None:
            self.choose_condition(self._now.looked)

    @property
    def is_without_paper(self) -> bool:
        """True when no paper was ever added and nobody has said that a file of a working space is wanted instead."""
        take, here = self._now.take, self._now.condition
        if take is None or here is None or not here.space or take.written is not None:
            return False
        return all(c.space for c in self._shelf.conditions) and not self._book.recall(_FILE_WANTED, False)

    def want_file(self) -> None:
        """The picture goes to a lab as a file of a working space: that is what it is judged for."""
        self._book.remember(_FILE_WANTED, True)
        self._bus.tell("conditions")

    def choose_looked(self) -> None:
        """Choose the paper that is looked at, if one is."""
        if self._now.looked is not None:
            self.choose(self._now.looked)

    def choose_condition(self, condition: PrintCondition) -> None:
        """The open take goes over to another paper. A rendering the user has set stays; else the paper's own default comes."""
        take = self._now.take
        if take is None:
            return
        before = self._now.condition
        if condition.space:
            self._book.remember(_FILE_WANTED, True)
        hand_over = sharpened_for(take.hand_over, self._shelf.spread_of(condition))
        self.change(
            "condition",
            condition=condition.id,
            hand_over=hand_over,
            rendering=self._now.rendering_on(condition),
            ticked=(),
        )
        if before is not None and self._now.condition == condition != before:
            self._bus.say(f"Paper changed from {before.paper} to {condition.paper}.", "undo")

    def take_on(self, condition: PrintCondition) -> None:
        """A new take on another paper: as the open one, but for what belongs to its paper."""
        take = self._now.take
        if take is None or take.condition == condition.id:
            return
        hand_over = replace(take.hand_over, media="", feed="", program_intent="", program_compensation="")
        hand_over = sharpened_for(hand_over, self._shelf.spread_of(condition))
        recipe = steps_for_another_paper(take.recipe, self._habits.all)
        made = replace(
            take, id=0, condition=condition.id, name="", rendering=self._now.rendering_on(condition),
            recipe=recipe, hand_over=hand_over, sheet=_on_another_paper(take.sheet), written=None, ticked=(),
        )  # fmt: skip
        made = begun(made, self._now.master, self._habits.all, condition)
        before = self.name_of(take)
        kept = self._book.do("new-take", [made])
        if kept:
            self._now.open_take(kept[0])
            self._bus.tell("takes")
            if recipe.steps:
                self._bus.say(
                    f"A new take on {condition.paper}, with the steps of {before}.", "without-steps", str(kept[0].id)
                )

    def leave_steps(self, number: int) -> None:
        """A take just made for another paper, as it would have begun: without the steps it was given."""
        take, master, condition = self._now.take, self._now.master, self._now.condition
        if take is None or take.id != number or condition is None:
            return
        fresh = begun(replace(take, recipe=Recipe()), master, self._habits.all, condition)
        self.change("without-steps", recipe=fresh.recipe)

    # ---- undo

    def undo(self) -> str:
        """Take back the last operation, whatever it was about; answers with its name, empty for none."""
        done = self._book.undo()
        if done is not None:
            self._follow(done, "Taken back")
        return "" if done is None else done.name

    def redo(self) -> str:
        """Do it again; answers as :meth:`undo`."""
        done = self._book.redo()
        if done is not None:
            self._follow(done, "Done again")
        return "" if done is None else done.name

    def _follow(self, done: Operation, verb: str) -> None:
        """Show what an operation changed: the take it was done on, or the lists; say it where the open take does not show it."""
        here = self._now.take
        self._bus.tell(*done.topics)
        target = self._book.get(Take, done.take)
        if here is not None and self._book.get(Take, here.id) is None:
            self._open_instead(here, target)
        elif target is not None and (here is None or target.id != here.id):
            self._now.open_take(target)
        elif here is not None:
            fresh = self._book.get(Take, here.id)
            if fresh is not None and fresh != here:
                self._now.become(fresh)
        read_anew = [v for v in done.after if isinstance(v, Master) and v.id == getattr(self._now.master, "id", 0)]
        if read_anew and self._now.picture is not None and here is not None and not done.is_new(read_anew[0]):
            self._now.read_again()  # what its file is read as, or which content counts, is another again
        self._bus.say(f"{verb}: {operation_words(done.name)}.")

    def _open_instead(self, gone: Take, target: Take | None) -> None:
        """Another take of the picture, else any; nothing when there is none."""
        rest = self.of(gone.master) or self._book.all(Take)
        if target is not None or rest:
            self._now.open_take(target or rest[-1])
        else:
            self._now.close_take()
