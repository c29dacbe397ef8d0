"""The estimator against a general library: Gaussian-process regression with fixed variances is the same mixed model."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sklearn.gaussian_process import GaussianProcessRegressor
from sklearn.gaussian_process.kernels import ConstantKernel, DotProduct

from rehearsal.core.screen.lessons import NOISE, OWN, SHARED, estimate


def _one_hot(papers: list[int], count: int) -> np.ndarray:
    return np.eye(count)[papers]


def _by_library(y: list[float], papers: list[int], count: int) -> tuple[np.ndarray, np.ndarray]:
    """Values and standard deviations of each paper's s + p: a constant and a dot product of one-hot papers as kernel."""
    kernel = ConstantKernel(SHARED**2, "fixed") + ConstantKernel(OWN**2, "fixed") * DotProduct(0.0, "fixed")
    model = GaussianProcessRegressor(kernel, alpha=NOISE**2, optimizer=None).fit(_one_hot(papers, count), np.array(y))
    mean, std = model.predict(np.eye(count), return_std=True)
    return mean, std


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(-0.5, 0.5), st.integers(0, 3)), min_size=1, max_size=12))
def test_value_and_doubt_are_those_of_the_mixed_model(rows: list[tuple[float, int]]) -> None:
    # small residuals: Huber's weights are all one, and the prediction is the plain linear one
    y, papers = [v for v, _p in rows], [p for _v, p in rows]
    mean, std = _by_library(y, papers, 4)
    for paper in range(4):
        found = estimate(y, papers, paper)
        assert found.value == pytest.approx(mean[paper], abs=1e-5) and found.doubt == pytest.approx(
            std[paper], abs=1e-5
        )
        assert found.shared + found.own == pytest.approx(found.value) and found.mine == papers.count(paper)


def test_an_outlier_weighs_less_than_the_plain_model_lets_it() -> None:
    y, papers = [0.2, 0.1, 0.0, 0.2, 9.0], [0, 0, 1, 1, 0]
    mean, _std = _by_library(y, papers, 2)
    assert estimate(y, papers, 0).value < mean[0] - 0.5
