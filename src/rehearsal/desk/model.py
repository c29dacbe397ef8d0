"""The state of the desk: which take is open, what is known about it, and every change as a named operation."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc.shared import LastUsed
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.proof.advice import CANDIDATES
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.screenroad import (
    EXACT_NODES,
    MOVING_NODES,
    Painter,
    ScreenRoad,
    ScreenSetup,
    node_values,
)
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import Tuning
from rehearsal.desk.inquiries import Inquiries
from rehearsal.desk.jobs import Progress
from rehearsal.tasks.desk_work import (
    LoadedPicture,
    condition_from,
    judge_take,
    load_master,
    new_condition,
    new_masters,
)
from rehearsal.tasks.finding import PROFILE_ENDINGS, look_at
from rehearsal.tasks.pictures import warm_up
from rehearsal.tasks.scouting import common_scale
from rehearsal.workbook.learning import Lesson, learnt
from rehearsal.workbook.masters import refreshed
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import LogEntry, Master, PrintCondition, Take

_SETTLE_MS = 220
_JUDGE_MS = 350
_UNDO_DEPTH = 200


class DeskModel(Inquiries):
    """Owner of the open take and of everything computed for it."""

    take_changed = pyqtSignal(object, object)
    picture_changed = pyqtSignal()
    road_changed = pyqtSignal()
    judgement_changed = pyqtSignal()

    def __init__(self, workbook: Workbook, parent: QObject | None = None) -> None:
        super().__init__(workbook, parent)
        self.jobs.failed.connect(self._on_failed)
        self.road: ScreenRoad | None = None
        self._roads: LastUsed[ScreenRoad] = LastUsed(10)
        self.unmanaged = False
        self.rival: PrintCondition | None = None
        self.rival_road: ScreenRoad | None = None
        self.rival_painter: Painter | None = None
        self.judgement: Judgement | None = None
        self.judged_for: Take | None = None
        self.painter: Painter | None = None
        self.file_state = "there"
        self.hold = True
        self._undo: dict[int, list[Take]] = {}
        self._redo: dict[int, list[Take]] = {}
        self._preview: Tuning | None = None
        self._settle = self._timer(_SETTLE_MS, self._bake_exact)
        self._judge_later = self._timer(_JUDGE_MS, self.judge)

    def _timer(self, ms: int, slot: Callable[[], None]) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(ms)
        timer.timeout.connect(slot)
        return timer

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

    def _on_opened(self, found: tuple[list[Master], list[RehearsalError]]) -> None:
        made, errors = found
        known = {m.digest: m for m in self.masters}
        kept = [
            self.workbook.put(replace(known[m.digest], path=m.path, modified=m.modified) if m.digest in known else m)
            for m in made
        ]
        if kept:
            self.open_master(kept[-1])
        self.lists_changed.emit()
        for error in errors:
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
        self.picture_changed.emit()
        folders = [Path(master.path).parent, Path(master.path).parent.parent]

        def work(progress: Callable[[float, str], None]) -> tuple[Master, str, LoadedPicture]:
            return load_master(master, folders, progress)

        self.jobs.run("load", work, self._on_loaded, quick=True)

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
        """Forget a take; the master stays."""
        self.workbook.remove(take)
        if self.take is not None and self.take.id == take.id:
            rest = self.takes_of(take.master)
            master = self.workbook.get(Master, take.master)
            if rest:
                self.open_take(rest[-1])
            elif master is not None:
                self.open_master(master)
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
        self.workbook.put(condition)
        self.lists_changed.emit()
        if self.take is not None and self.take.condition == condition.id:
            self.take_changed.emit(self.take, {"condition"})

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

    @property
    def shown_tuning(self) -> Tuning:
        """Tuning that is on the screen."""
        if self._preview is not None:
            return self._preview
        return self.take.tuning if self.take else Tuning()

    # ---- the picture on the screen

    @property
    def space(self) -> MasterSpace | None:
        """Space of the working pixels."""
        return self.loaded.pyramid.space if self.loaded else None

    def setup(self) -> ScreenSetup | None:
        """What the screen road depends on."""
        condition = self.condition
        return None if condition is None else self._setup_for(condition, self.unmanaged)

    def _setup_for(self, condition: PrintCondition, unmanaged: bool = False) -> ScreenSetup | None:
        if self.take is None or self.loaded is None:
            return None
        try:
            paper = self.profile(condition.profile_path)
        except RehearsalError as error:
            self.said.emit(f"{error.sentence()}. Choose the profile again in the Paper station.")
            return None
        return ScreenSetup(
            self.loaded.pyramid.space.profile, paper, self.screen_profile, self.take.rendering, self.take.view, self.light,
            self.hold, unmanaged,
        )  # fmt: skip

    def set_hold(self, on: bool) -> None:
        """Hold the master's white at the paper's lightness, or show it at full brightness."""
        self.hold = on
        self.refresh_road()

    def set_unmanaged(self, on: bool) -> None:
        """Show what prints when the picture's numbers reach the printer unconverted: a warning, never a proof."""
        condition = self.condition
        if on and condition is not None and self._is_cmyk(condition):
            self.said.emit(
                "A CMYK printer cannot be sent a picture's RGB numbers, so there is no unconverted look here."
            )
            on = False
        self.unmanaged = on
        self.refresh_road()

    def _is_cmyk(self, condition: PrintCondition) -> bool:
        try:
            return self.profile(condition.profile_path).space != "RGB"
        except RehearsalError:
            return True

    def set_rival(self, two: list[PrintCondition]) -> None:
        """Put two papers into the pair: the first of them that is not the take's takes the picture's place."""
        if self.take is None:
            return
        if self.take.condition not in [c.id for c in two]:
            self.choose_condition(two[0])
        self.rival = next(c for c in two if c.id != self.take.condition)
        self.refresh_road()

    def end_rival(self) -> None:
        """The picture takes its place in the pair again."""
        self.rival, self.rival_road, self.rival_painter = None, None, None
        self.road_changed.emit()

    def refresh_road(self) -> None:
        """Bake the chain for the present paper, rendering, view and screen; a known one is there at once."""
        setup = self.setup()
        if setup is None:
            return
        rival = None if self.rival is None else self._setup_for(self.rival)
        if rival is not None:
            scale = common_scale([setup.paper, rival.paper], setup.screen, setup.view, setup.light)
            setup, rival = replace(setup, scale=scale), replace(rival, scale=scale)
        known = self._roads.peek(setup)
        if known is not None and rival is None:
            self.jobs.stop("road")
            self._on_road((known, None))
        else:
            self.jobs.run("road", lambda p: self._bake(setup, rival, p), self._on_road, quick=True, part=self._on_road)
        self._judge_later.start()

    def _bake(
        self, setup: ScreenSetup, rival: ScreenSetup | None, progress: Progress
    ) -> tuple[ScreenRoad, ScreenRoad | None]:
        """The full roads; a first look is told on the way when nothing is kept for this setup."""
        if self._roads.peek(setup) is None and rival is None:
            progress.tell((ScreenRoad(setup, MOVING_NODES), None))
        road = self._roads.get(setup, lambda: ScreenRoad(setup))
        return road, None if rival is None else self._roads.get(rival, lambda: ScreenRoad(rival))

    def _on_road(self, roads: tuple[ScreenRoad, ScreenRoad | None]) -> None:
        self.road, self.rival_road = roads
        self._paint_tuning(self.shown_tuning)
        self._settle.start()

    def _bake_ahead(self) -> None:
        """The other usual intents in the present view, so that changing the intent shows at once."""
        setup = self.setup()
        if setup is None or self.unmanaged or self.rival is not None:
            return
        wanted = [
            replace(setup, rendering=r) for r in CANDIDATES if self._roads.peek(replace(setup, rendering=r)) is None
        ]
        if not wanted:
            return

        def work(progress: Progress) -> None:
            for each in wanted:
                progress(0.0, "baking ahead")
                self._roads.get(each, lambda each=each: ScreenRoad(each))  # type: ignore[misc]

        self.jobs.run("ahead", work, lambda _r: None)

    def _paint_tuning(self, tuning: Tuning) -> None:
        road = self.road
        if road is None:
            return
        if tuning.is_neutral:
            self.painter = road.neutral
        else:
            self.painter = road.moving(TuningMap(tuning, road.space).values(node_values(road.space, MOVING_NODES)))
        self._paint_rival(tuning)
        self.road_changed.emit()

    def _paint_rival(self, tuning: Tuning) -> None:
        road = self.rival_road
        if road is None:
            self.rival_painter = None
        elif tuning.is_neutral:
            self.rival_painter = road.neutral
        else:
            nodes = node_values(road.space, MOVING_NODES)
            self.rival_painter = road.moving(TuningMap(tuning, road.space).values(nodes))

    def _bake_exact(self) -> None:
        road, tuning = self.road, self.shown_tuning
        if road is None or tuning.is_neutral:
            return

        def work(progress: Callable[[float, str], None]) -> Painter:
            return road.exact(TuningMap(tuning, road.space).values(node_values(road.space, EXACT_NODES)))

        def answer(painter: Painter) -> None:
            if self.road is road and self.shown_tuning == tuning:
                self.painter = painter
                self.road_changed.emit()

        self.jobs.run("exact", work, answer, quick=True)

    # ---- the judgement

    def judge(self) -> None:
        """Judge the open take; the figures arrive by judgement_changed."""
        take, loaded, condition = self.take, self.loaded, self.condition
        setup = self.setup()
        if take is None or loaded is None or condition is None or setup is None:
            return

        def answer(result: Judgement) -> None:
            self.judgement, self.judged_for = result, take
            self.judgement_changed.emit()
            self._bake_ahead()

        self.ask_first()
        self.jobs.run("judge", lambda p: judge_take(take, condition, loaded, setup.paper, setup.screen, p), answer)

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
