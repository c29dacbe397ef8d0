"""What verdicts teach, against Henderson's equations solved here, and against histories drawn at random."""

from __future__ import annotations

import numpy as np
import pytest

from rehearsal.core.screen.lessons import NOISE, OWN, SHARED, estimate


def henderson(y: list[float], papers: list[str], asked: str) -> tuple[float, float, float, float]:
    """s + p, its deviation, s and p by the mixed-model equations (Henderson 1975): (ZᵀZ/σ² + D⁻¹) u = Zᵀy/σ²."""
    names = sorted({*papers, asked})
    z = np.array([[1.0, *(float(p == n) for n in names)] for p in papers]).reshape(len(y), len(names) + 1)
    d = np.diag([SHARED**2, *([OWN**2] * len(names))])
    cov = np.linalg.inv(z.T @ z / NOISE**2 + np.linalg.inv(d))
    u = cov @ z.T @ np.array(y) / NOISE**2
    pick = np.array([1.0, *(float(n == asked) for n in names)])
    return float(pick @ u), float(np.sqrt(pick @ cov @ pick)), float(u[0]), float(u[1 + names.index(asked)])


@pytest.mark.parametrize("asked", ["a", "b", "c"])
def test_it_is_the_best_linear_prediction(asked: str) -> None:
    y, papers = [2.0, 1.5, 2.2, 0.4, 0.1], ["a", "a", "a", "b", "b"]
    found, (value, doubt, shared, own) = estimate(y, papers, asked), henderson(y, papers, asked)
    assert (found.value, found.doubt) == (pytest.approx(value, abs=1e-6), pytest.approx(doubt, abs=1e-6))
    assert (found.shared, found.own) == (pytest.approx(shared, abs=1e-6), pytest.approx(own, abs=1e-6))
    assert (found.prints, found.mine) == (5, papers.count(asked)) and found.value == pytest.approx(
        found.shared + found.own
    )
    assert 0 < found.shared_doubt < SHARED and 0 < found.own_doubt <= OWN


def test_without_a_print_nothing_is_known() -> None:
    found = estimate([], [], "a")
    assert (found.value, found.prints) == (0.0, 0) and found.doubt == pytest.approx(np.hypot(SHARED, OWN))


def test_one_that_stands_out_hardly_counts() -> None:
    calm = estimate([2.0] * 5, ["a"] * 5, "a").value
    odd = estimate([2.0] * 5 + [10.0], ["a"] * 6, "a").value
    plain = henderson([2.0] * 5 + [10.0], ["a"] * 6, "a")[0]
    assert abs(odd - calm) < 0.35 < abs(plain - calm)
    assert estimate([2.0, 2.0, 3.0], ["a"] * 3, "a").value == pytest.approx(
        henderson([2.0, 2.0, 3.0], ["a"] * 3, "a")[0]
    ), "a small one counts whole"


def test_two_papers_that_are_dark_alike_blame_the_screen_and_one_alone_itself() -> None:
    both = estimate([2.0, 2.1, 1.9, 2.0], ["a", "a", "b", "b"], "a")
    assert abs(both.shared) > 3 * abs(both.own)
    alone = estimate([2.5, 2.4, 0.0, 0.1, -0.1, 0.0], ["a", "a", "b", "b", "c", "c"], "a")
    assert alone.own > 2 * abs(alone.shared)


def test_mean_errors_over_histories() -> None:
    """Stops of mean error: first print 0.31, second 0.09, third 0.06, fourth 0.05; first on a new paper after three elsewhere 0.21."""
    rng, errors, new = np.random.default_rng(7), np.zeros((1200, 4)), []
    for row in errors:
        s, own, other = rng.normal(0, SHARED), rng.normal(0, OWN), rng.normal(0, OWN)
        y = list(s + own + rng.normal(0, NOISE, 4))
        for i in range(4):
            row[i] = abs(estimate(y[:i], ["a"] * i, "a").value - s - own) / 6
        new.append(abs(estimate(y[:3], ["a"] * 3, "b").value - s - other) / 6)
    assert errors.mean(axis=0) == pytest.approx([0.31, 0.085, 0.06, 0.05], abs=0.02)
    assert np.mean(new) == pytest.approx(0.21, abs=0.02) and np.mean(new) < 0.75 * errors.mean(axis=0)[0]
