"""Closed loops without hands: a photographer with a noisy eye, a screen that is off, a simulated press; how many sheets it takes.

    .venv/bin/python tools/closed_loops.py [SEEDS]

Every print is made by the program's own arithmetic, printed by the simulated press and compared as the program compares prints; the eye
adds its noise and rounds to sixths of a stop. The same script counts the aided loop (a test sheet where nothing is known, learnt steps
everywhere else) and the unaided one (dark or light is all that is said, a third of a stop each time, half of that when it was too much:
common practice, no source).
"""

from __future__ import annotations

import itertools
import json
import sys
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import Picture
from rehearsal.core.sheet.printed import compare_prints
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.testsheets.judged import chosen_values, next_plan
from rehearsal.core.testsheets.variants import Planned, plan_variants
from rehearsal.core.testsheets.verdictrows import compared
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import LEARNT, Recipe, Step
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import Looked, TestPlan
from rehearsal.devices.simulated.press import LoadedSheet, SimulatedPress
from rehearsal.tasks.printing import device_xyz
from rehearsal.workbook.learning import learnt
from rehearsal.workbook.values import LogEntry

#: Noise of a verdict, in its steps of a sixth of a stop; deviation of a screen from right, stops of light.
NOISE, SCREEN = 0.3, 1 / 3
LUX, WHITE = 320.0, 100.0
#: What is as the take to the eye: half a sixth of a stop.
SAME = 1 / 12
_PPI, _EDGE = 30.0, 6


@dataclass
class World:
    """One photographer: a screen brighter than right by so many stops, a machine, papers by their numbers, an eye."""

    screen: float
    press: SimulatedPress
    papers: dict[int, Profile]
    picture: OpenPicture
    dice: np.random.Generator
    known: dict[object, float] = field(default_factory=dict)

    def opened(self, paper: int, recipe: Recipe) -> OpenRendition:
        """A small print."""
        profile = self.papers[paper]
        rendition = Rendition(
            self.picture.digest, frame=Frame(size=PrintSize(9.0, 6.0)), recipe=recipe, destination=Destination(profile.digest),
            hand_over=HandOver(format="tiff8", ppi=_PPI),
        )  # fmt: skip
        return OpenRendition(rendition, self.picture, profile)

    def off(self, paper: int, recipe: Recipe) -> float:
        """How much lighter a print looks than the take without its learnt step does on this screen, to an eye without noise.

        In stops of the picture, as the rows it is held against have them: a stop of the picture is less than one of the print, whose
        black is lighter.
        """
        return (self._kept(paper, recipe) - self.screen) / self.slope(paper)

    def slope(self, paper: int) -> float:
        """Stops of the print to a stop of the picture."""
        ends = [Recipe().having(Step(LEARNT, Values.of(lightness=side / 6))) for side in (-1, 1)]
        low, high = (self._kept(paper, end) for end in ends)
        return (high - low) * 3

    def _kept(self, paper: int, recipe: Recipe) -> float:
        key = paper, recipe
        if key not in self.known:
            self.known[key] = self._measured(paper, recipe)
        return self.known[key]

    def _measured(self, paper: int, recipe: Recipe) -> float:
        """Stops by which the press's print is lighter than the take without its learnt step, compared as the program compares."""
        opened = self.opened(paper, recipe)
        plan, page = (_page(one) for one in (compared(opened), opened))
        sheet = LoadedSheet(opened.paper, page.shape[1] / _PPI * 25.4, page.shape[0] / _PPI * 25.4)
        seen = self.press.print_page(page, _PPI / 25.4, sheet)
        return compare_prints(device_xyz(plan, opened.paper), seen.xyz, seen.white, _PPI / 25.4).stops

    def verdict(self, off: float) -> float:
        """Steps darker, as it is said."""
        return float(round(-off * 6 + self.dice.normal(0, NOISE)))


def _page(opened: OpenRendition) -> np.ndarray:
    pixels = make_pixels(opened)
    bare = 0 if pixels.shape[2] == 4 else 255
    return np.pad(pixels, ((_EDGE, _EDGE), (_EDGE, _EDGE), (0, 0)), constant_values=bare)


def make_world(seed: int, papers: dict[int, Profile], picture: Picture) -> World:
    """The same seed is the same photographer."""
    dice = np.random.default_rng(seed)
    screen = float(np.clip(dice.normal(0, SCREEN), -0.9, 0.9))
    return World(screen, SimulatedPress(f"machine {seed}"), papers, OpenPicture(picture, "loop"), dice)


def _entry(world: World, paper: int, recipe: Recipe, darker: float, number: int) -> LogEntry:
    rendition = world.opened(paper, recipe).rendition
    card = PrintCondition(id=paper, paper=f"paper {paper}", profile_digest=world.papers[paper].digest)
    return LogEntry(
        id=number, when=f"2026-{1 + number // 28:02}-{1 + number % 28:02}", picture=f"picture {number}", condition=paper, lux=LUX,
        screen_white=WHITE, darker=darker, verdict="usable", rendition=rendition, condition_card=card,
    )  # fmt: skip


def with_lesson(log: list[LogEntry], paper: int, recipe: Recipe) -> Recipe:
    """A recipe with what was learnt for a paper; as it is where nothing was."""
    lesson = learnt(log, paper, LUX, WHITE, recipe)
    return recipe if lesson is None else recipe.having(Step(LEARNT, Values.of(lightness=lesson.values["lightness"])))


def learn_in(world: World, paper: int, prints: int, log: list[LogEntry] | None = None) -> tuple[list[LogEntry], float]:
    """So many prints on a paper, each with what the ones before taught; the log, and how far the print after them is off."""
    log = list(log or [])
    for _ in range(prints):
        recipe = with_lesson(log, paper, Recipe())
        log.append(_entry(world, paper, recipe, world.verdict(world.off(paper, recipe)), len(log)))
    return log, world.off(paper, with_lesson(log, paper, Recipe()))


def test_sheets(world: World, paper: int, most: int = 2) -> tuple[float, float, int]:
    """Find the lightness by test sheets: the value, the one that would have been right, and how many sheets it took."""
    opened = world.opened(paper, Recipe())
    right = -world.off(paper, Recipe())
    plan, value = TestPlan("bracket", count=9), 0.0
    for sheet in range(1, most + 1):
        planned = _planned(opened, plan)
        values = [v.values[0] for v in planned.variants]
        wanted = right + world.dice.normal(0, NOISE / 6)
        looked = _look(values, wanted)
        following = next_plan(plan, planned.variants, planned.brackets[0].differences, looked)
        chosen = chosen_values("bracket", planned.variants, looked.chosen) if looked.chosen else None
        value = chosen[0] if chosen is not None else (max(values) if looked.ending == "further-up" else min(values))
        if following.plan is None or sheet == most:
            return value, right, sheet
        plan = following.plan
        if plan.side == 0:  # the next sheet is about what was given to the take
            opened = opened.having(opened.rendition.recipe.with_total("lightness", value))
    return value, right, most


_PLANS: dict[object, Planned] = {}


def _planned(opened: OpenRendition, plan: TestPlan) -> Planned:
    """A plan worked out once for all photographers: it depends on picture, paper and recipe alone."""
    key = opened.rendition, plan
    if key not in _PLANS:
        _PLANS[key] = plan_variants(opened, plan)
    return _PLANS[key]


test_sheets.__test__ = False  # type: ignore[attr-defined]


def _look(values: list[float], wanted: float) -> Looked:
    """What the eye says of a row: the nearest field, or the gap between two; further where it lies beyond by half a step."""
    places: list[tuple[float, tuple[int, ...]]] = [(v, (i,)) for i, v in enumerate(values, 1)]
    gaps: list[tuple[float, tuple[int, ...]]] = [
        ((a + b) / 2, (i, i + 1)) for i, (a, b) in enumerate(itertools.pairwise(values), 1)
    ]
    step = (values[-1] - values[0]) / max(len(values) - 1, 1)
    if wanted > values[-1] + step / 2:
        return Looked("further-up")
    if wanted < values[0] - step / 2:
        return Looked("further-down")
    return Looked("chosen", min(places + gaps, key=lambda place: abs(place[0] - wanted))[1])


def aided(world: World, prints: int, papers: list[int]) -> int:
    """Sheets for so many good prints, papers in turn: a test sheet while nothing was learnt, the lesson everywhere else."""
    log: list[LogEntry] = []
    sheets = 0
    for number in range(prints):
        paper = papers[number % len(papers)]
        recipe = Recipe()
        if not log:
            value, _right, used = test_sheets(world, paper)
            recipe, sheets = recipe.with_total("lightness", value), sheets + used
        while True:
            recipe = with_lesson(log, paper, recipe) if log else recipe
            sheets += 1
            off = world.off(paper, recipe)
            shown = recipe.on_screen.total[
                "lightness"
            ]  # a step by hand is seen on the screen too; what is wanted is the picture
            log.append(_entry(world, paper, recipe, world.verdict(off), len(log)))
            if abs(off + shown + world.dice.normal(0, NOISE / 6)) <= SAME:
                break
            recipe = Recipe()
    return sheets


def unaided(world: World, prints: int, papers: list[int]) -> int:
    """Sheets for so many good prints when all that is said is dark or light: a third of a stop, halved when it was too much."""
    sheets = 0
    for number in range(prints):
        paper, value, step, before = papers[number % len(papers)], 0.0, 1 / 3, 0.0
        while True:
            sheets += 1
            off = world.off(paper, Recipe()) + value
            seen = off + world.dice.normal(0, NOISE / 6)
            if abs(seen) <= SAME:
                break
            if before * seen < 0:
                step /= 2
            value, before = value - np.sign(seen) * step, seen
    return sheets


def count(
    seeds: int,
    papers: dict[int, Profile],
    picture: Picture,
    told: Callable[[str], object] = lambda _t: None,
    season: int = 14,
) -> dict[str, float]:
    """All figures over so many photographers."""
    one, two = list(papers)[:2]
    fourth, second, without, steps, sheets = [], [], [], [], []
    used = {"aided": 0, "unaided": 0}
    for seed in range(seeds):
        world = make_world(seed, papers, picture)
        log, off = learn_in(world, one, 3)
        fourth.append(abs(off))
        second.append(abs(world.off(two, with_lesson(log, two, Recipe()))))
        without.append(abs(world.off(two, Recipe())))
        value, right, took = test_sheets(make_world(seed, papers, picture), one)
        steps.append(abs(value - right))
        sheets.append(took)
        used["aided"] += aided(make_world(seed, papers, picture), season, [one, two])
        used["unaided"] += unaided(make_world(seed, papers, picture), season, [one, two])
        told(f"{seed + 1} of {seeds}")
    step = _visible(make_world(0, papers, picture), one)
    return {
        "seeds": seeds, "fourth_within_0.1": float(np.mean(np.array(fourth) <= 0.1)), "fourth_mean": float(np.mean(fourth)),
        "second_paper": float(np.mean(second)), "second_paper_without": float(np.mean(without)), "visible_step": step,
        "within_a_visible_step": float(np.mean(np.array(steps) <= step)), "test_sheets_mean": float(np.mean(sheets)),
        "sheets_per_good_aided": used["aided"] / (seeds * season), "sheets_per_good_unaided": used["unaided"] / (seeds * season),
    }  # fmt: skip


def _visible(world: World, paper: int) -> float:
    planned = plan_variants(world.opened(paper, Recipe()), TestPlan("bracket", count=3))
    values = [v.values[0] for v in planned.variants]
    return max(b - a for a, b in itertools.pairwise(values))


def main() -> None:
    """Count and print."""
    from rehearsal.core.icc import open_profile
    from rehearsal.core.picture.file import read_picture
    from rehearsal.core.picture.reduce import reduce_to
    from rehearsal.core.picture.space import master_space
    from rehearsal.demo.make import demo_folder
    from rehearsal.demo.pictures import demo_picture

    folder = demo_folder()
    picture = read_picture(demo_picture("cloths.tif"))
    small = reduce_to(picture.pixels, master_space(picture.profile), 300, 200)
    papers = {
        1: open_profile(folder / "profiles" / "SK24_WhiteDune_Hi.icc"),
        2: open_profile(folder / "profiles" / "OS17_OldQuay_Fine.icc"),
    }
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    found = count(
        seeds, papers, replace(picture, pixels=small), lambda text: print(f"\r{text}", end="", file=sys.stderr)
    )
    print(json.dumps(found, indent=1))


if __name__ == "__main__":
    main()
