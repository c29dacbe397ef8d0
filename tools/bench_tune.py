"""Timings of tuning: a control moved until both panes are painted, and a large picture rendered. Milliseconds, and as ratios."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from bench_desk import demo_window, settle
from PyQt6.QtWidgets import QApplication

from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.tuning.tuner import Tuner
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.pull import Pull
from rehearsal.core.values.recipe import PLACE, Recipe, Step, by_hand
from rehearsal.demo.pictures import demo_picture
from rehearsal.desk.frame.window import Window

_MOVES = 40
_ALL = by_hand(
    lightness=0.2, contrast=8, dark_half=4, light_half=3, deepest=-2, lightest=2, warmth=5, tint=2, strength=8, quiet=9
)
_PULL = Pull(0.62, 0.11, 45.0, lighter=0.02, stronger=-0.02, turned=4.0)
_PLACE = Step(PLACE, by_hand(lightness=0.3).total, place=Ellipse((0.4, 0.3), (0.2, 0.12)))


def rung(move: int) -> Recipe:
    """A rung of the ladder."""
    return by_hand(lightness=(move % 9 - 4) / 6, contrast=move % 7, strength=move % 5, warmth=move % 11 - 5)


def pulled(move: int) -> Recipe:
    """A colour that is pulled, over all the rest."""
    return _ALL.with_pulled((replace(_PULL, lighter=0.01 + move % 8 * 0.003),))


def placed(move: int) -> Recipe:
    """A rung while a place is tuned too."""
    return rung(move).having(_PLACE)


def moved(window: Window, recipe_of: Callable[[int], Recipe], moves: int = _MOVES) -> tuple[float, float]:
    """Seconds until both panes are painted after a move: the median, and what 95 % stay below."""
    times, roads = [], window.session.roads
    for i in range(moves):
        begin = time.perf_counter()
        roads.preview(recipe_of(i))
        QApplication.processEvents()  # paints what has changed
        while any(job.kind == "placed" for job in window.session.jobs.running):
            QApplication.processEvents()
        QApplication.processEvents()
        times.append(time.perf_counter() - begin)
    roads.end_preview()
    return statistics.median(times), float(np.percentile(times, 95))


def tune(library_proof: Callable[[np.ndarray, bytes], float], fast: bool = False) -> None:
    """Everything that is moved at Tune, at two sizes of the window; then 24 megapixels rendered."""
    sizes = ((1280, 800, (16, 25, 33)), (3840, 2160, (40, 60, 80)))
    for width, height, wanted in sizes[: 1 if fast else None]:
        window = demo_window()
        window.resize(width, height)
        window.stack.go(4)
        settle(window)
        place = window.pair.placing.placed(1)
        block = window.pair.sides.block(window.pair.placing.patch(place))
        profile = window.session.now.picture.pyramid.space.profile
        both = np.concatenate([block, block], axis=1)
        other = statistics.median(library_proof(both, profile.data) for _ in range(9))
        for name, recipe_of, most in zip(("rung", "pulled", "placed"), (rung, pulled, placed), wanted, strict=True):
            mine, high = moved(window, recipe_of, 3 if fast else _MOVES)
            print(
                f"tune {width} × {height}, {name}: median {mine * 1000:.1f} ms (wanted {most}), 95 % below {high * 1000:.1f} ms; "
                f"library {other * 1000:.1f} ms for {both.shape[1]} × {both.shape[0]} pixels; ratio {mine / other:.2f}"
            )
        window.close()
    rendered(library_proof, fast)


def rendered(library_proof: Callable[[np.ndarray, bytes], float], fast: bool = False) -> None:
    """24 megapixels with every control and a colour pulled."""
    picture = read_picture(demo_picture("cloths.tif"))
    big = np.ascontiguousarray(picture.pixels[::10, ::10]) if fast else np.tile(picture.pixels, (2, 2, 1))
    other = statistics.median(library_proof(big, picture.profile.data) for _ in range(3))
    tuner, flat = Tuner(pulled(3), master_space(picture.profile), (big.shape[1], big.shape[0])), big.reshape(-1, 3)
    tuner.pixels(flat[:1000], None)
    times = []
    for _ in range(3):
        begin = time.perf_counter()
        tuner.pixels(flat, None)
        times.append(time.perf_counter() - begin)
    mine = statistics.median(times)
    megapixels = big.shape[0] * big.shape[1] / 1e6
    print(
        f"tune, {megapixels:.1f} Mpx with all controls: {mine:.2f} s (wanted 4 for 24); library's proof {other:.2f} s; "
        f"ratio {mine / other:.2f}"
    )
