"""The picture on the screen: the baked roads of the open take, of its rival, and what is painted with them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.proof.advice import CANDIDATES
from rehearsal.core.proof.screenroad import EXACT_NODES, MOVING_NODES, Painter, ScreenRoad, ScreenSetup, node_values
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import Tuning
from rehearsal.core.work.once import LastUsed
from rehearsal.desk.inquiries import Inquiries
from rehearsal.desk.jobs import Progress
from rehearsal.tasks.scouting import common_scale
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import PrintCondition

_SETTLE_MS = 220
_KEPT_ROADS = 10


class Roads(Inquiries):
    """Owner of the screen road; the model that builds on this owns the take's changes and its judgement."""

    road_changed = pyqtSignal()

    def __init__(self, workbook: Workbook, parent: QObject | None = None) -> None:
        super().__init__(workbook, parent)
        self.road: ScreenRoad | None = None
        self.painter: Painter | None = None
        self.hold = True
        self.unmanaged = False
        self.rival: PrintCondition | None = None
        self.rival_road: ScreenRoad | None = None
        self.rival_painter: Painter | None = None
        self._roads: LastUsed[ScreenRoad] = LastUsed(_KEPT_ROADS)
        self._preview: Tuning | None = None
        self._settle = self._timer(_SETTLE_MS, self._bake_exact)

    def _timer(self, ms: int, slot: Callable[[], None]) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(ms)
        timer.timeout.connect(slot)
        return timer

    def choose_condition(self, condition: PrintCondition) -> None:
        """Rehearse for another paper; known by the model that builds on this."""

    def figures_are_stale(self) -> None:
        """The colours changed: known by the model that builds on this."""

    @property
    def shown_tuning(self) -> Tuning:
        """Tuning that is on the screen."""
        if self._preview is not None:
            return self._preview
        return self.take.tuning if self.take else Tuning()

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
        if self.rival is not None and self.take is not None and self.take.condition == self.rival.id:
            self.rival = None  # the take went over to the rival's paper: nothing is left to compare
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
        self.figures_are_stale()

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
