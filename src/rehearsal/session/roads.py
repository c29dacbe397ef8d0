"""The picture on the screen: the baked roads of the open take, of its rival, and what is painted with them."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.colour.table import srgb_decode, srgb_encode
from rehearsal.core.icc import Profile
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.proof.advice import CANDIDATES
from rehearsal.core.proof.chain import Look, ScreenLeg
from rehearsal.core.proof.movingroad import Paints
from rehearsal.core.proof.screenroad import BASE_NODES, MOVING_NODES, Painter, ScreenRoad, master_painter
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import LastUsed
from rehearsal.session.bus import Bus, Change
from rehearsal.session.home import Home
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.placed import PlacedPixels
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf, readable
from rehearsal.tasks.judging import warm_up
from rehearsal.tasks.scouting import common_look
from rehearsal.tasks.tables import KeptTables
from rehearsal.workbook.values import Take

_SETTLE_MS = 220
_KEPT_ROADS = 10


@dataclass(frozen=True)
class _Shown:
    """Roads that came home, and the looks and renderings they were asked for; ``own``: the rival is a take of its own."""

    road: ScreenRoad
    rival: ScreenRoad | None
    readings: tuple[Pyramid, Pyramid | None]
    own: OpenRendition | None = None


_Rgb = tuple[int, int, int]


class Roads:
    """Owner of the screen roads: listens to the take, the picture and the screen, and says ``road`` when there is something new."""

    def __init__(
        self, bus: Bus, jobs: Jobs, home: Home, shelf: Shelf, screen: Screen, now: Now, tables: KeptTables
    ) -> None:
        self._bus, self._jobs, self._shelf, self._screen, self._now = bus, jobs, shelf, screen, now
        self._tables = tables
        self.road: ScreenRoad | None = None
        self.painter: Paints | None = None
        self.hold = True
        self.unmanaged = False
        #: Paints the picture alone while there is no road: nothing can be proofed, but the picture can be seen.
        self.plain: Painter | None = None
        self.rival: PrintCondition | None = None
        #: The take that is compared, when it is not this one on another paper.
        self.rival_take: Take | None = None
        self._rival_shown: OpenRendition | None = None
        self.rival_road: ScreenRoad | None = None
        self.rival_painter: Paints | None = None
        #: What the roads' painters paint: the picture as each road's intent reads it.
        self.reading: Pyramid | None = None
        self.rival_reading: Pyramid | None = None
        self._kept: LastUsed[ScreenRoad] = LastUsed(_KEPT_ROADS)
        self._ends: LastUsed[tuple[_Rgb, _Rgb]] = LastUsed(20)
        self._preview: Recipe | None = None
        self._previewed: OpenRendition | None = None
        #: Steps for the light and learnt ones are shown on the screen too.
        self.with_additions = False
        self._painted: OpenRendition | None = None
        self.placed = PlacedPixels(bus, jobs, self)
        self._settle = home.timer(_SETTLE_MS, self._bake_exact)
        bus.changed.connect(self._follow)

    def close(self) -> None:
        """Nothing is baked any more."""
        self._settle.stop()

    # ---- what is shown

    @property
    def is_settling(self) -> bool:
        """True while the exact look is still to come."""
        return self._settle.is_active

    @property
    def previews(self) -> bool:
        """True while a tuning is shown that is not kept."""
        return self._preview is not None

    @property
    def shown(self) -> OpenRendition | None:
        """The rendition on the screen: the open one, or with the tuning that is being dragged."""
        opened = self._now.seen
        if opened is None or self._preview is None:
            return opened
        wanted = replace(opened.rendition, recipe=self._preview)
        if self._previewed is None or self._previewed.rendition != wanted or self._previewed.open is not opened.open:
            self._previewed = opened.having(self._preview)
        return self._previewed

    @property
    def on_screen(self) -> OpenRendition | None:
        """What is painted of it: the screen and the light have done already what the print's own steps stand for.

        The view in the print's light, and whoever asks for them, see these steps too.
        """
        shown = self.shown
        if shown is None or self.with_additions:
            return shown
        recipe = self.seen_recipe(shown.rendition.recipe)
        if recipe is shown.rendition.recipe:
            return shown
        wanted = replace(shown.rendition, recipe=recipe)
        if self._painted is None or self._painted.rendition != wanted or self._painted.open is not shown.open:
            self._painted = shown.having(recipe)
        return self._painted

    def seen_recipe(self, recipe: Recipe) -> Recipe:
        """What of a recipe the open take's view shows."""
        take = self._now.take
        return recipe if take is not None and take.view == "in-its-light" else recipe.on_screen

    @property
    def leaves_out(self) -> bool:
        """True while steps of the print are left out on the screen."""
        return self.on_screen is not self.shown

    def add_what_prints(self, on: bool) -> None:
        """Show the print's own steps on the screen too, or leave them out again."""
        if on != self.with_additions:
            self.with_additions = on
            self._paint()
            self._settle.start()

    @property
    def look(self) -> Look | None:
        """How the print is looked at."""
        take = self._now.take
        if take is None:
            return None
        limited = self._screen.record.limited
        return Look(self._screen.profile, take.view, self._screen.light, self.hold, self.unmanaged, limited=limited)

    @property
    def paper_level(self) -> int:
        """Grey level, 0 to 255, as light as the paper on the screen; 255 while the view shows no paper.

        By the luminance of sRGB (IEC 61966-2-1), which is near enough for near-neutral papers on any screen.
        """
        look, road = self.look, self.road
        if look is None or road is None or not look.shows_paper:
            return 255
        light = float(srgb_decode(np.clip(road.paper_rgb, 0, 1)) @ (0.2126, 0.7152, 0.0722))
        return int(srgb_encode(np.array(light)) * 255)

    # ---- operations of the eye

    def preview(self, recipe: Recipe) -> None:
        """Show a tuning while it is dragged; nothing is kept."""
        self._preview = recipe
        self._paint()

    def end_preview(self) -> None:
        """Show the take as it is kept again."""
        if self._preview is not None:
            self._preview = None
            self._paint()
            self._settle.start()

    def set_hold(self, on: bool) -> None:
        """Hold the master's white at the paper's lightness, or show it at full brightness."""
        self.hold = on
        self.refresh()

    def set_unmanaged(self, on: bool) -> None:
        """Show what prints when the picture's numbers reach the printer unconverted: a warning, never a proof."""
        paper = self._now.paper
        if on and (paper is None or paper.space != "RGB"):
            self._bus.say(
                "A CMYK printer cannot be sent a picture's RGB numbers, so there is no unconverted look here."
            )
            on = False
        self.unmanaged = on
        self._bus.tell("look")

    def set_rival(self, rival: PrintCondition) -> None:
        """Another paper takes the picture's place in the pair."""
        self.rival, self.rival_take = rival, None
        self._bus.tell("rival")
        self.refresh()

    def set_rival_take(self, take: Take, condition: PrintCondition) -> None:
        """Another take of the picture takes the picture's place in the pair, in the crop of the open one."""
        self.rival, self.rival_take = condition, take
        self._bus.tell("rival")
        self.refresh()

    def end_rival(self) -> None:
        """The picture takes its place in the pair again."""
        self._forget_rival()
        self._bus.tell("road", "rival")

    def _forget_rival(self) -> None:
        self.rival, self.rival_take, self.rival_road, self.rival_painter, self._rival_shown = (
            None,
            None,
            None,
            None,
            None,
        )

    # ---- baking

    def _follow(self, change: Change) -> None:
        if "take" in change.topics:
            self._on_take()
        elif "picture" in change.topics:
            self._on_picture()
        elif "take.condition" in change.topics:  # what was compared or warned of was about the other paper
            self.unmanaged = False
            self._forget_rival()
            self.refresh()
        elif change.about("take.rendering", "take.view", "take.hand_over", "look", "looked", "conditions"):
            self.refresh()
        elif "take.recipe" in change.topics:
            self._on_recipe()
        elif "judgement" in change.topics:
            self._bake_ahead()

    def _on_take(self) -> None:
        self._preview = None
        self.unmanaged = False
        self._forget_rival()
        if self._now.picture is not None:
            self.refresh()

    def _on_picture(self) -> None:
        if self._now.picture is None:
            self._jobs.stop("road")
            self._jobs.stop("exact")
            self.road, self.painter, self.plain = None, None, None
            paper = self._now.paper
            if paper is not None:
                screen = self._screen.profile
                self._jobs.run(
                    Job("warm", paper.digest), lambda _p: warm_up(paper, screen, self._tables).join(), lambda _r: None
                )
        else:
            self.refresh()

    def _on_recipe(self) -> None:
        self._preview = None
        self._paint()
        self._settle.start()

    def refresh(self) -> None:
        """Bake the chain for the present paper, rendering, view and screen; a known one is there at once."""
        opened, look = self._now.seen, self.look
        self._preview = None
        if opened is None or look is None:
            self._show_nothing()
            return
        here = self._now.take
        if self.rival is not None and self.rival_take is None and here is not None and here.condition == self.rival.id:
            self.rival = None  # the take went over to the rival's paper: nothing is left to compare
        rival_paper = None if self.rival is None else readable(self._shelf, self.rival)
        if rival_paper is None:
            self._ask(opened, look, None)
        else:
            self._ask(opened, common_look([opened.paper, rival_paper], look), self._rival_on(opened, rival_paper))
        self._bus.tell("figures")

    def _rival_on(self, opened: OpenRendition, paper: Profile) -> OpenRendition:
        """What stands in the picture's place: this take on another paper, or another take."""
        other = self.rival_take
        if other is None:
            return opened.on(paper)
        return opened.on(paper).rendered(other.rendering).having(self.seen_recipe(other.recipe))

    def _show_nothing(self) -> None:
        """The profile cannot be opened: no other paper's proof stands under its name."""
        if self._now.picture is not None:
            self.road, self.painter, self.rival_road, self.rival_painter = None, None, None, None
            self._jobs.stop("road")
            self._bus.tell("road")
            self._ask_plain(self._now.picture)

    def _ask_plain(self, picture: OpenPicture) -> None:
        """The picture's own painter, for a paper whose profile cannot be opened."""
        space, screen = picture.space_for("relative"), self._screen.profile

        def work(_progress: JobProgress) -> Painter:
            picture.pyramid.prepare()
            return master_painter(space, space.profile, screen, 1.0)[0]

        def answer(painter: Painter) -> None:
            if self.road is None and self._now.picture is picture:
                self.plain = painter
                self._bus.tell("road")

        self._jobs.run(Job("plain", (picture.digest, screen.digest)), work, answer, quick=True)

    def _ask(self, opened: OpenRendition, look: Look, rival: OpenRendition | None) -> None:
        known = self._kept.peek(_key(opened, look))
        if known is not None and rival is None and opened.open.has_reading(opened.rendition.read_intent):
            self._jobs.stop("road")
            self._on_road(_Shown(known, None, (opened.reading, None)))
            return

        def work(progress: JobProgress) -> _Shown:
            opened.reading.prepare()
            if self._kept.peek(_key(opened, look)) is None and rival is None:
                progress.tell(_Shown(_bake(opened, look, MOVING_NODES), None, (opened.reading, None)))
            road = self._road(opened, look)
            if rival is None:
                return _Shown(road, None, (opened.reading, None))
            rival.reading.prepare()
            own = rival if taken else None
            return _Shown(road, self._road(rival, look), (opened.reading, rival.reading), own)

        taken = self.rival_take is not None

        self._jobs.run(
            Job("road", (opened.rendition, look, rival and rival.rendition)),
            work,
            self._on_road,
            quick=True,
            part=self._on_road,
        )

    def _road(self, opened: OpenRendition, look: Look) -> ScreenRoad:
        return self._kept.get(_key(opened, look), lambda: _bake(opened, look))

    def _on_road(self, made: _Shown) -> None:
        self.plain = None
        self.road, self.rival_road = made.road, made.rival
        self.reading, self.rival_reading = made.readings
        self._rival_shown = made.own
        self._paint()
        self._settle.start()

    def _bake_ahead(self) -> None:
        """The other usual intents in the present view, so that changing the intent shows at once."""
        opened, look = self._now.opened, self.look
        if opened is None or look is None or self.unmanaged or self.rival is not None:
            return
        wanted = [r for r in CANDIDATES if self._kept.peek(_key(opened, look, r)) is None]
        if not wanted:
            return

        def work(progress: JobProgress) -> None:
            for rendering in wanted:
                progress(0.0, "baking ahead")
                self._kept.get(
                    _key(opened, look, rendering),
                    lambda r=rendering: _bake(opened.rendered(r), look),  # type: ignore[misc]
                )

        self._jobs.run(Job("ahead", (opened.rendition, look)), work, lambda _r: None)

    # ---- painting

    def _paint(self) -> None:
        shown = self.on_screen
        if self.road is None or shown is None:
            return
        self.painter = _moving(self.road, shown)
        self.rival_painter = None if self.rival_road is None else _moving(self.rival_road, self._rival_shown or shown)
        self._bus.tell("road")

    def _bake_exact(self) -> None:
        road, shown = self.road, self.on_screen
        if road is None or shown is None or not shown.rendition.recipe.total:
            return
        everywhere = _everywhere(shown)

        def answer(painter: Painter) -> None:
            now = self.on_screen
            if self.road is road and now is not None and now.rendition.recipe == shown.rendition.recipe:
                self.painter = painter
                self._bus.tell("road")

        self._jobs.run(Job("exact", shown.rendition), lambda _p: road.exact(everywhere.tuned), answer, quick=True)

    def ends_of(self, view: str) -> tuple[_Rgb, _Rgb] | None:
        """Screen RGB, 0 to 255, of the paper's white and of its black in a view; None without a paper."""
        opened, look = self._now.seen, self.look
        if opened is None or look is None:
            return None
        there = replace(look, view=view)
        white, black = self._ends.get((opened.paper.digest, there), lambda: _ends(there.leg(opened.paper)))
        return white, black

    def colours_of(self, x: int, y: int) -> tuple[_Rgb, _Rgb] | None:
        """Screen RGB, 0 to 255, of the left picture and of the take at a pixel of the master; None while there is no road."""
        road, shown, picture = self.road, self.on_screen, self._now.picture
        if road is None or shown is None or picture is None or self.painter is None:
            return None
        one = picture.pyramid.block(x, y, 1, 1, 1, 1)
        theirs = (self.reading or picture.pyramid).block(x, y, 1, 1, 1, 1)
        rival = self.rival_painter
        if shown.rendition.recipe.is_global:
            printed = self.painter.paint(theirs)
        else:
            printed = road.neutral.paint(shown.tuned.tuned(theirs, (x, y, 1, 1)))
        left = road.master.paint(one) if rival is None else rival.paint(one)
        other = self._rival_shown
        if other is not None and self.rival_road is not None and not other.rendition.recipe.is_global:
            left = self.rival_road.neutral.paint(other.tuned.tuned(one, (x, y, 1, 1)))
        return _rgb(left), _rgb(printed)

    def of_side(self, content: int) -> OpenRendition | None:
        """What is painted of the take (1), or beside it (0) in a comparison."""
        return self._rival_shown if content == 0 and self._rival_shown is not None else self.on_screen


def _ends(leg: ScreenLeg) -> tuple[_Rgb, _Rgb]:
    """8-bit screen RGB of bare paper and of the printable black."""
    white, black = (tuple(np.round(v * 255).astype(int).tolist()) for v in (leg.paper_rgb, leg.black_rgb))
    return white, black


def _rgb(painted: np.ndarray) -> _Rgb:
    """Channels of one painted pixel (1, 1) uint32."""
    value = int(painted[0, 0])
    return value >> 16 & 255, value >> 8 & 255, value & 255


def _key(opened: OpenRendition, look: Look, rendering: Rendering | None = None) -> Hashable:
    real = opened if rendering is None else opened.rendered(rendering)
    return opened.space.profile.digest, real.chain().key, look


def _bake(opened: OpenRendition, look: Look, nodes: int | None = None) -> ScreenRoad:
    rendering, master = opened.rendition.rendering, opened.space.profile
    return ScreenRoad(opened.source, opened.paper, rendering, look, nodes or BASE_NODES, master, opened.via)


def _everywhere(shown: OpenRendition) -> OpenRendition:
    """The rendition without the steps that act at places: what one table can hold."""
    recipe = shown.rendition.recipe
    if recipe.is_global:
        return shown
    return shown.having(replace(recipe, steps=tuple(s for s in recipe.steps if s.place is None)))


def _moving(road: ScreenRoad, shown: OpenRendition) -> Paints:
    if not shown.rendition.recipe.total:
        return road.neutral
    return road.moving(_everywhere(shown).tuned)
