"""Surfaces, drying and the edge no ink reaches: facts of the trade (common practice, no source) and plain arithmetic."""

from datetime import datetime, timedelta

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter1d

from rehearsal.core.papers.surface import (
    BRIGHTENERS,
    RULES,
    SIGMA_UM,
    brightener_words,
    detail_mm,
    detail_words,
    family,
    good_for,
    rule_words,
)
from rehearsal.core.proof.scout import CARES
from rehearsal.core.sheet.drying import dry_at, wet_words
from rehearsal.core.sheet.layout import fits_sheet
from rehearsal.core.sheet.onsheet import fed_margins, turned_margins
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize


@pytest.mark.parametrize(
    ("surface", "texture", "kind"),
    [("matte cotton", "smooth", "matte"), ("matte cotton", "textured", "textured"), ("baryta, semi-gloss", "fine", "lustre"),
     ("gloss, resin-coated", "none", "gloss"), ("Canvas", "", "textured"), ("baryta", "", "lustre"),
     ("Semi-Gloss", "", "lustre"), ("", "", ""),
     ("cotton", "coarse", "textured"), ("washi", "", "")],
)  # fmt: skip
def test_families(surface: str, texture: str, kind: str) -> None:
    assert family(surface, texture) == kind


@pytest.mark.parametrize("kind", SIGMA_UM)
def test_detail_whose_contrast_falls_to_a_half(kind: str) -> None:
    """Against SciPy's Gaussian filter over a sine of that period."""
    step = 0.002  # mm
    x = np.arange(0, 40 * detail_mm(kind), step)
    sine = np.sin(2 * np.pi * x / detail_mm(kind))
    kept = np.ptp(gaussian_filter1d(sine, SIGMA_UM[kind] / 1000 / step, truncate=6)[len(x) // 4 : -len(x) // 4]) / 2
    assert kept == pytest.approx(0.5, abs=0.004)
    assert 1 / detail_mm(kind) == pytest.approx(0.19 / (SIGMA_UM[kind] / 1000), rel=0.02)


def test_words_of_surfaces() -> None:
    assert (
        detail_words("matte") == "lines closer than 0.32 mm lose over half of their contrast" and detail_words("") == ""
    )
    assert detail_mm("gloss") < detail_mm("lustre") < detail_mm("matte") < detail_mm("textured")
    assert "behind glass" in good_for("matte") and good_for("") == ""
    assert set(RULES) < set(CARES)


def test_the_rule_agrees_only_where_it_does() -> None:
    assert rule_words("strong colour", ["gloss"], ["gloss", "matte"]).startswith("The trade's rule agrees:")
    assert rule_words("strong colour", ["matte"], ["gloss", "matte"]).startswith("The trade's rule is another one:")
    assert rule_words("strong colour", ["matte", "gloss"], ["gloss", "matte"]).startswith("The trade's rule agrees:"), (
        "a tie"
    )
    for best, compared in ((["matte"], ["matte", "lustre"]), ([""], ["gloss", ""]), ([], ["gloss"])):
        assert rule_words("strong colour", best, compared) == "The trade's rule: gloss for strong colour."
    assert rule_words("what is lost", ["gloss"], ["gloss"]) == ""


def test_brightener_is_told_by_its_light() -> None:
    words = {brightener_words(each) for each in (*BRIGHTENERS, "")}
    assert len(words) == 4 and all("window" in each for each in words)
    assert "yellower" not in brightener_words("none") and "fades" in brightener_words("full")
    assert brightener_words("a word of one's own") == brightener_words("")


def test_a_print_is_wet_until_its_hours_are_over() -> None:
    written = "2026-11-27T14:00"
    dry = dry_at(written, 24)
    assert dry == datetime(2026, 11, 28, 14) and dry_at(written, 0) is None and dry_at("", 24) is None
    now = datetime(2026, 11, 27, 15)
    assert wet_words(dry, now) == "tomorrow, 14:00" and wet_words(dry_at(written, 2), now) == "16:00"
    assert wet_words(dry_at(written, 72), now) == "30 Nov, 14:00"
    assert dry is not None and wet_words(dry, dry) == "" and wet_words(dry, dry - timedelta(minutes=1)) == "14:00"
    assert wet_words(None, now) == ""
    assert dry_at(written, 1e300) is None and dry_at(written, float("nan")) is None and dry_at("2026", 2) is None
    zoned = dry_at("2026-11-27T14:00+00:00", 2)
    assert (
        zoned is not None
        and zoned.tzinfo is None
        and zoned == datetime.fromisoformat("2026-11-27T16:00+00:00").astimezone().replace(tzinfo=None)
    )


def test_margins_turn_with_the_sheet() -> None:
    """As :func:`fits_sheet` counts them: top and bottom lie along the long side."""
    fed = (30.0, 4.0, 20.0, 6.0)
    assert turned_margins(fed, False) == fed and fed_margins(fed, False) == fed
    drawn = turned_margins(fed, True)
    assert drawn == (4.0, 20.0, 6.0, 30.0), "what goes in first lies at the left"
    assert fed_margins(drawn, True) == fed
    wide = PrintSize(29.7 - (drawn[1] + drawn[3]) / 10, 21.0 - (drawn[0] + drawn[2]) / 10)
    assert fits_sheet(wide, "A4", fed, False) == ""
    assert fits_sheet(PrintSize(wide.width_cm + 0.1, wide.height_cm), "A4", fed, False) != ""


def test_what_is_touched_is_told() -> None:
    card = PrintCondition(
        printer="P", paper="A", quality="High", feed="", read=("paper", "quality"), loading="one\n\n two "
    )
    told = card.touched(quality="Fine")
    assert told.quality == "Fine" and told.read == ("paper",) and told.state("quality") == "told"
    assert card.steps == ("one", "two")
    assert card.fields_that_are("empty") and not card.touched(lab=True).fields_that_are("empty"), (
        "a lab sets its own driver"
    )
