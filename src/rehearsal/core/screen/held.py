"""What a screen shows and what a lit print holds, in one scale of luminance; the tones of a picture between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.screen.brightness import AGREE, LEAST_WHITE, MOST_WHITE, paper_luminance, screen_offset

#: Bins of a picture's tones: hundredths of a decade of relative luminance, from a ten-thousandth up to white.
DECADES, BINS = 4, 400


@dataclass(frozen=True)
class Tones:
    """How much of a picture has which luminance, relative to its white.

    Attributes:
        shares: per cent of the pixels in each bin (BINS,), darkest first, even in log10 Y; what is darker still is in the first.
    """

    shares: np.ndarray

    @classmethod
    def of(cls, luminance: np.ndarray) -> Tones:
        """From Y relative to white (...), 0 to 1."""
        flat = np.asarray(luminance, dtype=np.float64).ravel()
        places = np.floor((np.log10(np.maximum(flat, 10.0**-DECADES)) + DECADES) / DECADES * BINS)
        counts = np.bincount(np.clip(places, 0, BINS - 1).astype(np.int64), minlength=BINS)
        return cls(counts / max(len(flat), 1) * 100.0)

    def below(self, luminance: float) -> float:
        """Per cent of the pixels darker than a relative Y; between the bins' edges in proportion."""
        if luminance <= 0:
            return 0.0
        at = (np.log10(luminance) + DECADES) / DECADES * BINS
        edges = np.concatenate([[0.0], np.cumsum(self.shares)])
        return float(np.interp(at, np.arange(BINS + 1), edges))

    def silhouette(self, spread: float = 6.0) -> np.ndarray:
        """Share at each bin (BINS,), smoothed by a Gaussian of so many bins, 1 at its largest.

        The first bin holds all that is darker than the scale: its height says nothing of a density and is left out.
        """
        reach = int(4 * spread)
        kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / spread) ** 2)
        within = self.shares.copy()
        within[0] = 0.0
        made = np.convolve(within, kernel / kernel.sum(), mode="same")
        return np.asarray(made / max(float(made.max()), 1e-12))


@dataclass(frozen=True)
class Held:
    """Whites and blacks in cd/m²; of a lit print without glare or glass.

    Attributes:
        deeper: per cent of the picture that is darker than the paper's black once the whites meet; None without a picture.
    """

    screen_white: float
    screen_black: float
    paper_white: float
    paper_black: float
    deeper: float | None

    @property
    def paper_contrast(self) -> float:
        """White to black of the print, in any light."""
        return self.paper_white / self.paper_black


def held(
    screen_white: float, screen_contrast: float, lux: float, white_y: float, contrast: float, tones: Tones | None
) -> Held:
    """What is seen and what will be held.

    Args:
        screen_white: cd/m²; screen_contrast: its white to black.
        lux: on the print; white_y: reflectance factor of the bare paper; contrast: of paper and ink.
        tones: of the picture inside its crop.
    """
    paper = paper_luminance(lux, white_y)
    deeper = None if tones is None else tones.below(1.0 / contrast)
    return Held(screen_white, screen_white / max(screen_contrast, 1.0), paper, paper / contrast, deeper)


@dataclass(frozen=True)
class Limit:
    """What to type into a calibration tool, so that the whole screen has a paper's contrast: cd/m²."""

    white: float
    black: float

    @property
    def words(self) -> str:
        """One line of values."""
        return f"white {self.white:.0f} cd/m², black {self.black:.2f} cd/m², contrast {self.white / self.black:.0f} : 1"


def limit_for(seen: Held) -> Limit:
    """Targets of a screen limited to a paper: the lit paper's white as far as a screen goes to it, and the paper's contrast."""
    white = min(max(seen.paper_white, LEAST_WHITE), MOST_WHITE)
    return Limit(white, white / seen.paper_contrast)


def meeting_words(seen: Held, lux: float) -> str:
    """How bright a screen would meet this paper, and how much light (lux now) would do it; where no screen should go so far, that."""
    light = f"{lux * seen.screen_white / seen.paper_white:.0f} lx on the print would meet this screen"
    if abs(screen_offset(seen.screen_white, seen.paper_white)) < AGREE:
        return "screen and lit paper meet"
    if seen.paper_white > MOST_WHITE:
        return f"no screen should go to {seen.paper_white:.0f}; {light}"
    if seen.paper_white < LEAST_WHITE:
        return f"no screen should go down to {seen.paper_white:.0f}; {light}"
    return f"a screen at {seen.paper_white:.0f} would meet this paper; {light}"
