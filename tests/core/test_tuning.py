"""What recipes do to pixels: adjustments, places, and the door to tuned pixels."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.space import master_space
from rehearsal.core.tuning.apply import Applied, tone_curve
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values


def _one(space_name: str = "sRGB", **values: float) -> Applied:
    return Applied([Values.of(values)], master_space(working_space(space_name)))


NAMES = list(ADJUSTMENTS)


@given(st.sampled_from(NAMES), st.floats(-1, 1))
def test_tuning_maps_the_space_into_itself(name: str, part: float) -> None:
    each = ADJUSTMENTS[name]
    axis = np.linspace(0, 1, 5)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    tuned = _one("ROMM", **{name: part * (each.high if part > 0 else -each.low)}).linear(cube)
    assert tuned.min() >= 0 and tuned.max() <= 1 and np.isfinite(tuned).all()
    np.testing.assert_allclose(tuned[0], 0, atol=1e-6)


@given(st.floats(-2, 2), st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50))
def test_tone_always_rises(lightness: float, contrast: float, dark: float, light: float) -> None:
    curve = tone_curve(Values.of(lightness=lightness, contrast=contrast, dark_half=dark, light_half=light))
    assert (np.diff(curve) >= 0).all() and curve[0] == 0 and curve[-1] == pytest.approx(100)
