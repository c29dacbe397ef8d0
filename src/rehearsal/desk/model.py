"""The state of the desk: which take is open, what is known about it, and every change as a named operation."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.file import Picture
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.tuning.values import Tuning
from rehearsal.desk.jobs import Progress
from rehearsal.desk.roads import Roads
from rehearsal.tasks.desk_work import (
    LoadedPicture,
    Opened,
    condition_from,
    judge_take,
    load_master,
    new_condition,
    new_masters,
)
from rehearsal.tasks.finding import PROFILE_ENDINGS, look_at
from rehearsal.tasks.pictures import warm_up
from rehearsal.workbook.learning import Lesson, learnt
from rehearsal.workbook.masters import refreshed
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import LogEntry, Master, PrintCondition, Take

_JUDGE_MS = 350
_UNDO_DEPTH = 200


class DeskModel(Roads):
    """Owner of the open take and of everything computed for it."""

    take_changed = pyqtSignal(object, object)
    picture_changed = pyqtSignal()
    judgement_changed = pyqtSignal()

    def __init__(self, workbook: Workbook, parent: QObject | None = None) -> None:
        super().__init__(workbook, parent)
        self.jobs.failed.connect(self._on_failed)
        self.judgement: Judgement | None = None
        self.judged_for: Take | None = None
        self.file_state = "there"
        #: A picture that was read while its file was taken into the workbook.
        self._ahead: Picture | None = None
        self.removed_take: Take | None = None
        self._undo: dict[int, list[Take]] = {}
        self._redo: dict[int, list[Take]] = {}
        self._judge_later = self._timer(_JUDGE_MS, self.judge)

    # ---- opening

    def open_files(self, paths: list[str]) -> None:
        """Take pictures into the workbook and open the last; profiles become print conditions."""
        pictures = []
        for path in map(Path, paths):
            suffix = path.suffix.lower()
            try:
                if suffix == ".zip":
                    self._take_archive(path)
                elif path.is_dir():
                    self.library.add_folder(path)
                    self.said.emit(f"{path.name} is looked through for profiles from now on.")
                elif suffix in PROFILE_ENDINGS:
                    self._add_profile(path)
                else:
                    pictures.append(path)
            except RehearsalError as error:
                self._on_failed("open", error)
        if pictures:
            self.jobs.run("open", lambda progress: new_masters(pictures, progress), self._on_opened)

    def _add_profile(self, path: Path) -> None:
        found = look_at(path)
        condition = new_condition(path) if found.reason else condition_from(found)[0]
        self.add_condition(condition)

    def _take_archive(self, path: Path) -> None:
        """Profiles out of an archive, each with its instruction sheet, onto the shelf."""
        made = self.library.take_archive(path)
        before = len(self.conditions)
        for each in made:
            self._add_profile(each)
        count = len(self.conditions) - before
        self.said.emit(f"{count} new on the shelf from {path.name}; please check the fields read out of the names.")

    def _on_opened(self, found: Opened) -> None:
        known = {m.digest: m for m in self.masters}
        kept = [
            self.workbook.put(replace(known[m.digest], path=m.path, modified=m.modified) if m.digest in known else m)
            for m in found.masters
        ]
        if kept:
            self._ahead = found.last
            self.open_master(kept[-1])
            self._ahead = None
        self.lists_changed.emit()
        for error in found.errors:
            self._on_failed("open", error)

    def open_master(self, master: Master) -> None:
        """Open a master's last take, making a first one when it has none."""
        takes = self.takes_of(master.id)
        self.open_take(takes[-1] if takes else self.workbook.put(self._fresh_take(master)))

    def _fresh_take(self, master: Master) -> Take:
        conditions = self.conditions
        condition = self.condition or (conditions[0] if conditions else None)
        if condition is None:
            condition = self.workbook.put(
                PrintCondition(paper="sRGB file for a lab", profile_path="space:sRGB", made_by="standard")
            )
        return Take(
            master=master.id,
            condition=condition.id,
            name=condition.paper,
            intent=condition.default_intent,
            compensate=condition.default_compensate,
        )

    def open_take(self, take: Take) -> None:
        """Show a take; reads its master when another one was open."""
        before, self.take = self.take, take
        self.workbook.set_setting("open take", take.id)
        self.judgement, self.judged_for, self._preview, self.first = None, None, None, None
        self.unmanaged, self.rival, self.rival_road, self.rival_painter = False, None, None, None
        self._warm_up()
        self.take_changed.emit(take, None)
        if self.loaded is None or before is None or before.master != take.master:
            self._load()
        else:
            self.refresh_road()

    def _warm_up(self) -> None:
        """While the picture is read: the paper's table, and the kernels."""
        condition = self.condition
        if condition is None or self.road is not None:
            return

        def work(_progress: object) -> None:
            warm_up(self.profile(condition.profile_path)).join()

        self.jobs.run("warm", work, lambda _result: None)

    def _load(self) -> None:
        master = self.master
        if master is None:
            return
        self.loaded, self.road, self.painter, self.arrival = None, None, None, None
        ahead = self._ahead if self._ahead is not None and self._ahead.info.path == master.path else None
        self.picture_changed.emit()
        condition = self.condition
        folders = [Path(master.path).parent, Path(master.path).parent.parent]

        def work(progress: Progress) -> tuple[Master, str, LoadedPicture]:
            return load_master(master, folders, progress, progress.tell, ahead)

        def read(picture: Picture) -> None:
            if condition is not None:
                self.ask_first_of(picture, condition.profile_path)

        self.jobs.run("load", work, self._on_loaded, quick=True, part=read)

    def _on_loaded(self, result: tuple[Master, str, LoadedPicture]) -> None:
        master, found, loaded = result
        if self.take is None or master.id != self.take.master:
            return
        self.workbook.put(master)
        self.file_state, self.loaded = found, loaded
        if found == "changed":
            self.said.emit(f"{master.name} has changed since it was judged. Judge again?")
        self.picture_changed.emit()
        self.refresh_road()
        self.judge()

    def accept_changed_master(self) -> None:
        """Take the edited file as the master from now on and judge again."""
        master = self.master
        if master is None or self.file_state != "changed":
            return

        def answer(fresh: Master) -> None:
            self.workbook.put(fresh)
            self.file_state = "there"
            self._load()

        self.jobs.run("accept", lambda _progress: refreshed(master), answer)

    def assume(self, space: str) -> None:
        """Read the open untagged master as a working space from now on."""
        master = self.master
        if master is not None:
            self.workbook.put(replace(master, assumed=space))
            self._load()

    def remove_take(self, take: Take) -> None:
        """Take a take off the rack; the master stays, and the take can be put back."""
        self.workbook.remove(take)
        self.removed_take = take
        if self.take is not None and self.take.id == take.id:
            rest = self.takes_of(take.master)
            master = self.workbook.get(Master, take.master)
            if rest:
                self.open_take(rest[-1])
            elif master is not None:
                self.open_master(master)
        self.lists_changed.emit()

    def restore_take(self) -> None:
        """Put the take that was removed last back on the rack, and open it."""
        take, self.removed_take = self.removed_take, None
        if take is not None and self.workbook.get(Master, take.master) is not None:
            self.open_take(self.workbook.put_back(take))
            self.lists_changed.emit()

    def duplicate_take(self) -> None:
        """A new take that starts as the open one."""
        if self.take is not None:
            copy = self.workbook.put(replace(self.take, id=0, name=f"{self.take.name}, again", file=""))
            self.open_take(copy)
            self.lists_changed.emit()

    # ---- conditions

    def add_condition(self, condition: PrintCondition) -> PrintCondition:
        """Keep a new condition, unless the very same profile is already on the shelf."""
        for known in self.conditions:
            if known.profile_digest and known.profile_digest == condition.profile_digest:
                self.said.emit(f"{known.name} is already on the shelf.")
                return known
        kept = self.workbook.put(condition)
        self.lists_changed.emit()
        self.measure_conditions()
        return kept

    def change_condition(self, condition: PrintCondition) -> None:
        """Keep an edited condition."""
        before = self.workbook.get(PrintCondition, condition.id)
        self.workbook.put(condition)
        if before is not None and before.profile_path != condition.profile_path:
            self.forget_facts(condition)
        self.lists_changed.emit()
        if self.take is not None and self.take.condition == condition.id:
            self.take_changed.emit(self.take, {"condition"})
        self.measure_conditions()

    def choose_condition(self, condition: PrintCondition) -> None:
        """Rehearse for another paper; its own default rendering comes with it."""
        if self.take is None:
            return
        name = condition.paper if self.take.name in [c.paper for c in self.conditions] else self.take.name
        self.change(
            condition=condition.id, name=name, intent=condition.default_intent, compensate=condition.default_compensate
        )

    # ---- changes

    def change(self, **fields: Any) -> None:
        """One undoable change of the open take; kept at once."""
        if self.take is None:
            return
        made = replace(self.take, **fields)
        if made == self.take:
            return
        stack = self._undo.setdefault(made.id, [])
        stack.append(self.take)
        del stack[:-_UNDO_DEPTH]
        self._redo[made.id] = []
        self._become(made, set(fields))

    def _become(self, take: Take, fields: set[str]) -> None:
        self.take, self._preview = take, None
        self.workbook.put(take)
        self.take_changed.emit(take, fields)
        if fields & {"condition", "intent", "compensate", "view"}:
            self.refresh_road()
        elif fields & {"tuning"}:
            self._paint_tuning(take.tuning)
            self._settle.start()
        if fields & {"crop"} and self.loaded is not None:
            self.picture_changed.emit()
        if fields & {"condition", "intent", "compensate", "tuning", "crop", "print_width_cm", "print_height_cm"}:
            self._judge_later.start()

    def _step(self, source: dict[int, list[Take]], target: dict[int, list[Take]]) -> None:
        if self.take is None or not source.get(self.take.id):
            return
        made = source[self.take.id].pop()
        target.setdefault(self.take.id, []).append(self.take)
        changed = {k for k in made.__dict__ if getattr(made, k) != getattr(self.take, k)}
        self._become(made, changed)

    def undo(self) -> None:
        """Take back the last change of the open take."""
        self._step(self._undo, self._redo)

    def redo(self) -> None:
        """Do it again."""
        self._step(self._redo, self._undo)

    def preview_tuning(self, tuning: Tuning) -> None:
        """Show a tuning while a slider is dragged; nothing is kept."""
        self._preview = tuning
        self._paint_tuning(tuning)

    # ---- the judgement

    def judge(self) -> None:
        """Judge the open take; the figures arrive by judgement_changed."""
        take, loaded, condition = self.take, self.loaded, self.condition
        setup = self.setup()
        if take is None or loaded is None or condition is None or setup is None:
            self.measure_conditions()
            return

        def answer(result: Judgement) -> None:
            self.judgement, self.judged_for = result, take
            self.judgement_changed.emit()
            self._bake_ahead()
            self.measure_conditions()

        self._judge_later.stop()
        if self.first is None and self.judgement is None and "first" not in self.jobs.running:
            self.ask_first()
        self.jobs.run("judge", lambda p: judge_take(take, condition, loaded, setup.paper, setup.screen, p), answer)

    def figures_are_stale(self) -> None:
        """Judge again in a moment."""
        self._judge_later.start()

    @property
    def judgement_is_current(self) -> bool:
        """True when the figures belong to the take as it is."""
        return self.judgement is not None and "judge" not in self.jobs.running and not self._judge_later.isActive()

    @property
    def lesson(self) -> Lesson | None:
        """What earlier prints taught for the open take's condition and light."""
        if self.take is None:
            return None
        return learnt(self.log, self.take.condition, self.screen.lux, self.screen.white)

    def keep_log(self, entry: LogEntry) -> LogEntry:
        """Write an entry into the logbook."""
        kept = self.workbook.put(entry)
        self.lists_changed.emit()
        return kept

    def as_last_time(self) -> str:
        """Make the open master's take like the last one printed (or kept) for the same condition.

        Returns what was taken over, as a sentence, or why nothing was.
        """
        if self.take is None:
            return "Open a picture first."
        model = self._last_printed()
        if model is None:
            return "Nothing has been printed on this paper yet, so there is no last time."
        words = (
            "intent",
            "compensate",
            "view",
            "tuning",
            "route",
            "space",
            "depth",
            "ppi",
            "fit",
            "borderless",
            "sheet",
        )
        fields = {name: getattr(model, name) for name in words}
        width, height = model.print_width_cm, model.print_height_cm
        if self.loaded is not None and width > 0:
            info = self.loaded.picture.info
            if (info.width > info.height) != (width > height):
                width, height = height, width
        self.change(print_width_cm=width, print_height_cm=height, **fields)
        return f"As last time on {model.name}: {model.intent}, {len(words) + 2} settings taken over."

    def _last_printed(self) -> Take | None:
        from rehearsal.workbook.values import from_json

        assert self.take is not None
        for entry in reversed(self.log):
            if entry.condition == self.take.condition and entry.take:
                return from_json(Take, entry.take)
        others = [t for t in self.workbook.all(Take) if t.condition == self.take.condition and t.id != self.take.id]
        return others[-1] if others else None

    def _on_failed(self, key: str, error: object) -> None:
        if key == "warm":  # the road will say what is wrong
            return
        if key in ("load", "judge"):
            self.measure_conditions()
        if isinstance(error, RehearsalError):
            text = error.sentence()
        elif isinstance(error, MemoryError):
            text = "there is not enough memory for this picture: close other programs or use a smaller one"
        else:
            text = f"{key} failed ({type(error).__name__}: {error}): please report this"
        self.said.emit(text[:1].upper() + text[1:] + ".")

    def close(self) -> None:
        """Stop all work and close the workbook."""
        self._settle.stop()
        self._judge_later.stop()
        self.library.close()
        self.jobs.close()
        self.workbook.close()
