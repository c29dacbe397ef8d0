"""How near a print is to its picture: untuned, as it is tuned, and the nearest this paper can show."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import PaperModel, paper_model
from rehearsal.core.papers.nearest import nearest
from rehearsal.core.proof.chain import PrintChain, fitted_master

#: A mean ΔE₀₀ that grows by less has not turned back.
TURNED = 0.05


@dataclass(frozen=True)
class Near:
    """Mean ΔE₀₀ from a target half-way between M and M′, in the view the print is looked at in.

    Attributes:
        before, now: of the untuned print, and of the tuned one.
        floor: of the printable colours nearest to the target.
    """

    before: float
    now: float
    floor: float

    @property
    def nearer(self) -> float:
        """Share of the way from the untuned print to the floor that tuning has come; below 0 where it went back, 0 without a way."""
        way = self.before - self.floor
        return 1 - (self.now - self.floor) / way if way > 1e-6 else 0.0

    @property
    def turned_back(self) -> bool:
        """True when tuning has gone past what brings it nearer: the print is further away than untuned, by more than nothing."""
        return self.now > self.before + TURNED


@dataclass(frozen=True)
class NearArea:
    """How near one area, or several of one name, come: its hue's key, its share of the image in per cent."""

    hue: str
    share: float
    near: Near


@dataclass(frozen=True)
class NearSample:
    """Pixels to be judged: M of the untuned picture (m, 3), and 0 to 1 what is printed untuned and tuned (m, channels)."""

    lab: np.ndarray
    plain: np.ndarray
    tuned: np.ndarray


def how_near(sample: NearSample, master: Profile, chain: PrintChain, paper: Profile, on_paper: bool) -> Near:
    """How near both prints come.

    Args:
        master: profile of M's pixels.
        on_paper: the view shows the paper, so that prints are seen in absolute colours.
    """
    model, absolute = paper_model(paper), on_paper or chain.rendering.intent == "absolute"
    target = near_target(sample.lab, master, paper)

    def away(values: np.ndarray) -> float:
        return mean_away(values, target, chain, absolute)

    best = nearest_absolute(model, target) if absolute else model.nearest(target)[1]
    return Near(away(sample.plain), away(sample.tuned), float(delta_e_2000(target, best).mean()))


def near_target(lab: np.ndarray, master: Profile, paper: Profile) -> np.ndarray:
    """Lab (m, 3) half-way between M (m, 3) and M′."""
    return np.asarray((lab + fitted_master(lab, master, paper)) / 2)


def mean_away(values: np.ndarray, target: np.ndarray, chain: PrintChain, absolute: bool) -> float:
    """Mean ΔE₀₀ of what is printed (m, channels), 0 to 1, from its target (m, 3)."""
    printed = chain.print_lab(values)
    return float(delta_e_2000(target, chain.model.absolute(printed) if absolute else printed).mean())


def nearest_absolute(model: PaperModel, lab: np.ndarray) -> np.ndarray:
    """The absolute colours (m, 3) of a paper nearest to absolute Lab (m, 3), by the search of :meth:`PaperModel.nearest`."""
    wanted = np.ascontiguousarray(lab, dtype=np.float64)
    start = np.clip(model.from_lab.apply(wanted), 0, 1)
    table = np.ascontiguousarray(model.absolute(model.table.reshape(-1, 3)).reshape(model.table.shape))
    device = nearest(wanted, start, table, model.ink_limit)[0]
    found: np.ndarray = model.to_absolute.apply(device)
    return found


def printed_lightness(chain: PrintChain, greys: np.ndarray) -> np.ndarray:
    """Absolute L* (m,) at which neutral device values (m, channels), 0 to 1, of what is printed come out."""
    light: np.ndarray = chain.model.absolute(chain.print_lab(greys))[:, 0]
    return light
