"""What measured facts mean in plain words: each statement has its condition. Limits: common practice, no source."""

import pytest

from rehearsal.core.papers.health import HealthNote
from rehearsal.core.papers.plain import greys, room_for_colour, steps


@pytest.mark.parametrize(
    ("chroma", "words", "good"),
    [(0.2, "greys stay grey", True), (1.5, "greys stay grey", True), (1.6, "greys lean a little near L* 19, by chroma 1.6", False),
     (3.0, "greys lean a little near L* 19, by chroma 3.0", False), (3.1, "greys have a cast near L* 19, by chroma 3.1", False)],
)  # fmt: skip
def test_greys(chroma: float, words: str, good: bool) -> None:
    made = greys(chroma, 19.2)
    assert made.words == words and made.good is good


def test_smooth_is_not_said_of_rough_tables() -> None:
    assert steps(0.06, []).words == "steps are smooth" and steps(0.5, []).good
    assert not steps(0.51, []).good
    assert steps(0.06, [HealthNote("cast", (4.0, 20.0))]).good, "a cast is no step"
    for kind in ("noise", "reversal", "kink", "coarse-table", "8-bit-tables"):
        assert "may show" in steps(0.06, [HealthNote(kind)]).words


def test_room_is_told_against_the_largest_of_the_shelf() -> None:
    others = [("Small", 300_000.0), ("Gloss", 800_000.0)]
    made = room_for_colour(592_000.0, others)
    assert made is not None and made.words == "74 % of the room for colour of Gloss" and not made.good
    about = room_for_colour(790_000.0, others)
    assert about is not None and about.words == "about as much room for colour as Gloss"
    most = room_for_colour(800_000.0, others)
    assert most is not None and most.words == "the most room for colour of the shelf" and most.good
    assert room_for_colour(592_000.0, []) is None and room_for_colour(0.0, others) is None
