"""Screen and lit print on one scale; tones against counting, luminance against Lambert's law."""

import numpy as np
import pytest

from rehearsal.core.screen.brightness import advise_brightness
from rehearsal.core.screen.held import BINS, DECADES, Held, Tones, held, limit_for, meeting_words


def test_shares_below_a_luminance_are_those_that_are_counted(rng: np.random.Generator) -> None:
    y = rng.uniform(0, 1, (300, 400)) ** 3
    tones = Tones.of(y)
    assert tones.shares.sum() == pytest.approx(100) and len(tones.shares) == BINS
    for level in (1 / 39, 1 / 129, 0.18, 0.9):
        assert tones.below(level) == pytest.approx((y < level).mean() * 100, abs=0.15)
    assert tones.below(0) == 0 and tones.below(1.0) == pytest.approx(100, abs=0.2)
    assert Tones.of(np.zeros((5, 5))).below(1 / 39) == 100, "black is darker than every paper's black"
    assert Tones.of(np.ones((5, 5))).below(0.5) == 0


def test_the_silhouette_stands_where_the_tones_are() -> None:
    y = np.concatenate([np.full(3000, 0.18), np.full(1000, 0.01), np.zeros(9000)])
    made = Tones.of(y).silhouette()
    at = int((np.log10(0.18) + DECADES) / DECADES * BINS)
    assert made.max() == 1 and abs(int(made.argmax()) - at) <= 1
    low = int((np.log10(0.01) + DECADES) / DECADES * BINS)
    assert made[low] == pytest.approx(1 / 3, abs=0.02), "heights are in proportion to the pixels"
    assert made[0] < 0.01, "pure black is no density"


def test_whites_and_blacks_in_candelas() -> None:
    # Lambert: 320 lx on a paper of Y 0.925 shine with 320 · 0.925 / π = 94.2 cd/m²
    seen = held(90.0, 1000.0, 320.0, 0.925, 39.0, Tones.of(np.array([0.5, 0.01, 0.02, 0.04])))
    assert seen.paper_white == pytest.approx(94.22, abs=0.01) and seen.paper_black == pytest.approx(2.416, abs=0.001)
    assert seen.screen_black == pytest.approx(0.09) and seen.paper_contrast == pytest.approx(39)
    assert seen.deeper == pytest.approx(50), "0.01 and 0.02 lie under 1/39, 0.04 does not"
    assert held(90.0, 1000.0, 320.0, 0.925, 39.0, None).deeper is None


@pytest.mark.parametrize(
    ("screen", "paper", "words"),
    [(90.0, 101.0, "meet"), (90.0, 102.0, "a screen at 102 would meet this paper"), (200.0, 190.0, "meet"),
     (200.0, 94.0, "a screen at 94 would meet this paper"),
     (100.0, 161.0, "no screen should go to 161"), (100.0, 59.0, "no screen should go down to 59")],
)  # fmt: skip
def test_meeting_is_said_only_where_it_holds(screen: float, paper: float, words: str) -> None:
    said = meeting_words(Held(screen, 0.1, paper, paper / 39, None), 320.0)
    assert words in said and ("lx on the print" in said) == (said != "screen and lit paper meet")
    assert (f"{320 * screen / paper:.0f} lx" in said) == ("lx" in said)
    # the same limit as the sentence of the station, which says that they agree
    agree = "agree" in advise_brightness(320.0, paper * np.pi / 320.0, screen).words
    assert (said == "screen and lit paper meet") == agree


def test_targets_of_a_limited_screen_keep_the_papers_contrast() -> None:
    assert limit_for(Held(90, 0.1, 94.2, 94.2 / 39, None)).words == "white 94 cd/m², black 2.42 cd/m², contrast 39 : 1"
    bright = limit_for(Held(90, 0.1, 400.0, 400 / 39, None))
    assert bright.white == 160 and bright.white / bright.black == pytest.approx(39)
