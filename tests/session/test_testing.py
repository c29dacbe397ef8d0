"""Test sheets in a session: planned, written, dried, looked at; what is given to the take is what was printed."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from tests.session.conftest import Desk
from tests.session.test_late_answers import Gate

from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import LEARNT, Step, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import Variant
from rehearsal.core.values.wedge import WedgeSeen
from rehearsal.session import tested, testing
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take, TestSheet


def _planned(desk: Desk, **wish: object) -> None:
    """Wish for a sheet and wait until it is worked out."""
    testing = desk.session.testing
    testing.wish(**wish)
    desk.until(lambda: testing.made is not None or testing.trouble is not None)


def _written(desk: Desk, path: Path, **wish: object) -> TestSheet:
    """A sheet, written and kept."""
    _planned(desk, **wish)
    before = len(desk.session.tested.all)
    desk.session.tested.write(path)
    desk.until(lambda: len(desk.session.tested.all) > before)
    sheet = desk.session.tested.last
    assert sheet is not None
    return sheet


def _other_take(desk: Desk) -> Take:
    here = desk.take
    return next(t for t in desk.session.book.all(Take) if t.master != here.master)


@pytest.fixture
def gate() -> Gate:
    return Gate()


def test_what_is_given_to_the_take_is_what_was_printed(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=4).having(Step(LEARNT, Values.of(contrast=2))))
    assert s.tested.last is None and s.tested.subject is None
    sheet = _written(desk, tmp_path / "test.tif", kind="bracket", first="contrast", step=8.0, count=6)
    printed = [v.values[0] for v in sheet.variants]
    assert printed == [-10, -2, 6, 14, 22, 30] and sheet.names == ("contrast",) and sheet.file.endswith("test.tif")
    assert [v.rendition.recipe.total["contrast"] for v in sheet.variants] == printed
    # the take goes on, and another sheet is planned: field 4 stays what was printed as number 4
    s.takes.change_recipe(by_hand(contrast=-20, strength=3))
    s.testing.wish(first="lightness")
    s.tested.choose(sheet, (4,))
    for _ in range(3):
        found = s.book.get(TestSheet, sheet.id)
        assert found is not None and s.tested.apply(found)
        assert desk.take.recipe.total["contrast"] == 14 and desk.take.recipe.total["strength"] == 3
    assert "only what was tested was set" in desk.said[-1], "the take was changed in other ways meanwhile"
    s.tested.choose(found, (1, 2))
    found = s.book.get(TestSheet, sheet.id)
    assert found is not None and s.tested.values_of(found) == (-6.0,) and s.tested.apply(found)
    assert desk.take.recipe.total["contrast"] == -6
    s.takes.undo()
    assert desk.take.recipe.total["contrast"] == 14
    path = s.book._workbook.path
    desk.settle()
    s.close()
    again = Desk(Workbook(path))
    again.session.takes.open(again.session.book.all(Take)[0])
    again.settle()
    kept = again.session.tested.last
    assert kept == found and again.session.tested.apply(kept) and again.take.recipe.total["contrast"] == -6
    again.settle()
    again.session.close()


def test_nothing_is_said_to_have_changed_when_nothing_has(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "a.tif", kind="bracket", first="contrast", step=8.0)
    s.tested.choose(sheet, (3,))
    assert s.tested.apply(s.tested.last) and desk.said[-1].startswith("Given to the take: ")  # type: ignore[arg-type]
    assert "changed" not in desk.said[-1]
    assert s.tested.apply(s.tested.last) and "changed" not in desk.said[-1], "what it gave itself is no change"  # type: ignore[arg-type]
    s.takes.render(Rendering("perceptual", True))
    assert s.tested.apply(s.tested.last) and "only what was tested was set" in desk.said[-1]  # type: ignore[arg-type]
    desk.settle()


def test_a_plan_is_of_what_it_was_asked_for(desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    monkeypatch.setattr(testing, "work_out", gate.before(testing.work_out))
    s.testing.wish(first="contrast", count=5)
    assert s.testing.made is None and s.testing.planned is None
    # all changes while it is worked out: nothing of it answers what is wished for now
    s.takes.change_recipe(by_hand(contrast=20))
    s.testing.wish(first="lightness", count=3, step=0.5)
    assert s.testing.made is None
    gate.go.set()
    desk.until(lambda: s.testing.made is not None)
    made = s.testing.planned
    assert (
        made is not None
        and made.names == ("lightness",)
        and [v.values for v in made.variants] == [(-0.5,), (0.0,), (0.5,)]
    )
    assert [v.rendition.recipe.total["contrast"] for v in made.variants] == [20, 20, 20]
    _planned(desk, first="contrast", step=0.0, count=5)
    made = s.testing.planned
    assert made is not None and made.brackets[0].untouched == 20 and made.brackets[0].by_eye
    # it is known again at once, and another picture has its own
    values = [v.values for v in made.variants]
    s.testing.wish(first="lightness")
    s.testing.wish(first="contrast")
    assert s.testing.made is not None
    desk.settle()
    s.takes.open(_other_take(desk))
    assert s.testing.made is None
    desk.until(lambda: s.testing.made is not None)
    assert [v.values for v in s.testing.planned.variants] != values  # type: ignore[union-attr]


def test_a_sheet_that_is_written_late_belongs_to_the_take_it_was_of(
    desk: Desk, tmp_path: Path, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, first = desk.session, desk.take
    _planned(desk, kind="two")
    planned = s.testing.planned
    monkeypatch.setattr(tested, "write_test_page", gate.before(tested.write_test_page))
    s.tested.write(tmp_path / "late.tif")
    s.takes.change_recipe(by_hand(strength=20))
    s.testing.wish(kind="bracket")
    s.takes.open(_other_take(desk))
    gate.go.set()
    desk.until(lambda: bool(s.book.all(TestSheet)))
    (sheet,) = s.book.all(TestSheet)
    assert sheet.take == first.id and s.tested.all == [] and s.tested.last is None
    assert (
        planned is not None
        and sheet.plan.kind == "two"
        and [v.values for v in sheet.variants] == [v.values for v in planned.variants]
    )
    assert sheet.rendition.recipe.total["strength"] == 0 and sheet.rendition.master == planned.base.master
    assert not s.tested.apply(sheet), "another take gets nothing of it"
    desk.settle()


def test_live_proofs_follow_take_view_and_plan(desk: Desk) -> None:
    s = desk.session

    def look():  # type: ignore[no-untyped-def]
        desk.until(lambda: s.testing.look(1.0) is not None)
        found = s.testing.look(1.0)
        assert found is not None
        return [rgb.tobytes() for rgb in found.pieces]

    _planned(desk, kind="bracket", first="contrast", count=3)
    first = look()
    assert len(set(first)) == 3
    s.takes.change_recipe(by_hand(strength=40))
    desk.until(lambda: s.testing.made is not None)
    tuned = look()
    assert tuned != first
    s.takes.change("view", view="on-paper")
    assert look() != tuned
    crop = desk.take.frame.crop
    desk.until(lambda: s.testing.large((1,), crop, (60, 40)) is not None)
    desk.until(lambda: s.testing.large((1, 2), crop, (60, 40)) is not None)
    one, between = (s.testing.large(n, crop, (60, 40)) for n in ((1,), (1, 2)))
    assert one is not None and between is not None and one.tobytes() != between.tobytes()
    variant = s.testing.variant_at((1, 2))
    fields = s.testing.planned.variants  # type: ignore[union-attr]
    assert variant is not None and variant.values[0] == pytest.approx((fields[0].values[0] + fields[1].values[0]) / 2)
    assert s.testing.variant_at(()) is None and s.testing.variant_at((9,)) is None
    desk.settle()


def test_a_printed_sheet_is_shown_as_it_was(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "a.tif", kind="bracket", first="contrast", count=4)
    plan_title = s.testing.title
    s.takes.change_recipe(by_hand(contrast=30, warmth=10))
    s.testing.look_at(sheet)
    made = s.testing.made
    assert made is not None and made.planned.variants == sheet.variants and made.pieces == sheet.pieces
    assert s.testing.title == f"Test sheet 1, {sheet.sheet}, as printed" and "as planned" in plan_title
    opened = s.testing.opened
    assert opened is not None and opened.rendition == sheet.rendition, "its proofs are of what was printed"
    assert made.page is not None and "test sheet 1" in " ".join(line.text for line in made.page.page.lettering)
    assert s.testing.page_of(sheet) == made.page
    s.testing.wish(count=5)
    assert s.testing.sheet is None, "a wish is about the next sheet"
    s.testing.look_at(sheet)
    s.takes.open(_other_take(desk))
    assert s.testing.sheet is None and s.testing.looked_at is None
    desk.settle()


def test_results_are_kept_and_not_offered_again(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "a.tif", kind="bracket", first="lightness", count=5)
    assert s.tested.offered_control() == "lightness"
    s.tested.end(sheet, "further-up")
    sheet = s.tested.last
    assert sheet is not None and sheet.looked.ending == "further-up" and s.tested.settled() == set()
    s.tested.take_next(sheet)
    desk.until(lambda: s.testing.made is not None)
    highest = max(v.values[0] for v in sheet.variants)
    values = [v.values[0] for v in s.testing.planned.variants]  # type: ignore[union-attr]
    assert values[0] == 0.0 and min(values[1:]) > highest
    s.tested.end(sheet, "none-better")
    assert s.tested.settled() == {"lightness"} and s.tested.offered_control() == "contrast"
    sheet = s.tested.last
    assert sheet is not None and sheet.looked.chosen == () and not s.tested.apply(sheet)
    s.tested.choose(sheet, (2, 3))
    assert s.tested.settled() == {"lightness"}, "half a step is left: nothing finer is worth its paper"
    s.tested.choose(s.tested.last, (1,))  # type: ignore[arg-type]
    assert s.tested.settled() == set(), "at the edge what is better may lie beyond"
    s.takes.undo()
    assert s.tested.last is not None and s.tested.last.looked.chosen == (2, 3)
    desk.settle()


def test_words_and_wedges_are_kept_with_their_light(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "a.tif", kind="mixed")
    for number, key in ((2, "flat"), (2, "blocked"), (3, "burnt"), (2, "flat")):
        s.tested.say(s.tested.last, number, key)  # type: ignore[arg-type]
    looked = s.tested.last.looked  # type: ignore[union-attr]
    assert looked.of(2).words == ("blocked",) and looked.of(3).words == ("burnt",) and looked.of(1).words == ()
    s.tested.say(s.tested.last, 2, "blocked")  # type: ignore[arg-type]
    assert [said.number for said in s.tested.last.looked.said] == [3]  # type: ignore[union-attr]
    screen = s.screen.record
    s.tested.see_wedges(s.tested.last, 3, -1)  # type: ignore[arg-type]
    assert s.tested.last.looked.wedges == WedgeSeen(3.0, -1.0, screen.lux, screen.kelvin)  # type: ignore[union-attr]
    # black cannot be chosen
    before = s.tested.last
    s.tested.choose(before, (9,))  # type: ignore[arg-type]
    assert s.tested.last == before and sheet.variants[8].black
    desk.settle()


def test_each_kind_gives_what_it_tested(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "a.tif", kind="renderings")
    s.tested.choose(sheet, (2,))
    assert s.tested.apply(s.tested.last)  # type: ignore[arg-type]
    assert desk.take.rendering == sheet.variants[1].rendition.rendering != sheet.rendition.rendering
    s.tested.choose(s.tested.last, (1, 2))  # type: ignore[arg-type]
    assert s.tested.last.looked.chosen == (2,), "nothing lies between two renderings"  # type: ignore[union-attr]
    two = _written(desk, tmp_path / "b.tif", kind="two", first="lightness", second="contrast")
    s.tested.choose(two, (5, 6))
    assert s.tested.apply(s.tested.last)  # type: ignore[arg-type]
    half = (two.variants[4].values[0] + two.variants[5].values[0]) / 2
    assert (
        desk.take.recipe.total["lightness"] == pytest.approx(half, abs=1e-6)
        and desk.take.recipe.total["contrast"] == two.variants[4].values[1]
    )
    nine = _written(desk, tmp_path / "c.tif", kind="mixed")
    s.tested.choose(nine, (3,))
    assert s.tested.apply(s.tested.last) and desk.take.recipe.total == nine.variants[2].rendition.recipe.total  # type: ignore[arg-type]
    assert s.tested.apply(s.tested.last) and desk.take.recipe.total == nine.variants[2].rendition.recipe.total, (
        "set, not added"
    )  # type: ignore[arg-type]
    kept = s.tested.last
    s.tested.choose(kept, (1, 9))  # type: ignore[arg-type]
    assert s.tested.last == kept, "nothing lies between a field and black"
    fields = [v for v in nine.variants if not v.black]
    untouched = fields[0]

    def differs(variant: Variant) -> list[str]:
        pairs = zip(nine.names, variant.values, untouched.values, strict=True)
        return [name for name, value, plain in pairs if abs(value - plain) > 1e-9]

    stop = next(v for v in fields if differs(v) == ["lightness"])
    flat = next(v for v in fields if differs(v) == ["contrast"])
    s.tested.choose(kept, (untouched.number, stop.number))  # type: ignore[arg-type]
    assert "half each" not in s.tested.choice_words(s.tested.last)  # type: ignore[arg-type]
    half = [(a + b) / 2 for a, b in zip(untouched.values, stop.values, strict=True)]
    assert s.tested.values_of(s.tested.last) == pytest.approx(half)  # type: ignore[arg-type]
    s.tested.choose(s.tested.last, tuple(sorted((flat.number, stop.number))))  # type: ignore[arg-type]
    assert s.tested.choice_words(s.tested.last).startswith("both, half each: ")  # type: ignore[arg-type]
    desk.settle()


def test_one_picture_on_several_papers(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    s, lines = desk.session, []
    make = s.tested._small

    def small(rendition: Rendition, condition: PrintCondition, words: str, pixels: tuple[int, int]) -> Rendition:
        lines.append(words)
        return make(rendition, condition, words, pixels)

    monkeypatch.setattr(s.tested, "_small", small)
    _planned(desk, kind="papers")
    made = s.testing.made
    assert made is not None and len(made.planned.variants) >= 3
    conditions = {v.condition for v in made.planned.variants}
    assert len(conditions) == len(made.planned.variants) and desk.take.condition == made.planned.variants[0].condition
    s.testing.wish(members=tuple(sorted(conditions)[:2]))
    desk.until(lambda: s.testing.made is not None)
    s.tested.write_papers(tmp_path)
    desk.until(lambda: s.tested.last is not None)
    sheet = s.tested.last
    assert (
        sheet is not None
        and len(sheet.files) == 2
        and {v.condition for v in sheet.variants} == set(sorted(conditions)[:2])
    )
    assert len(list(tmp_path.glob("*.tif"))) == 2 and len(list(tmp_path.glob("*.ticket.pdf"))) == 2
    from rehearsal.core.picture.file import read_picture

    papers = [s.book.get(PrintCondition, v.condition).paper for v in sheet.variants]  # type: ignore[union-attr]
    assert all(line.startswith(paper) and "test sheet 1" in line for line, paper in zip(lines, papers, strict=True))
    s.tested.choose(sheet, (2,))
    assert s.tested.choice_words(s.tested.last).startswith(f"{papers[1]}, ")  # type: ignore[arg-type]
    for file, variant in zip(sheet.files, sheet.variants, strict=True):
        back = read_picture(file)
        card = s.book.get(PrintCondition, variant.condition)
        assert card is not None and back.profile.digest == card.profile_digest, "each with its own profile"
        sides = sorted((back.info.width / back.info.ppi * 2.54, back.info.height / back.info.ppi * 2.54))
        assert sides[0] <= 21.1 and sides[1] <= 29.8
    s.tested.say(sheet, 2, "maybe")
    s.tested.say(s.tested.last, 2, "yes")  # type: ignore[arg-type]
    s.tested.say_why(s.tested.last, 2, " its black ")  # type: ignore[arg-type]
    said = s.tested.last.looked.of(2)  # type: ignore[union-attr]
    assert (said.words, said.why) == (("yes",), "its black"), "answers exclude each other"
    desk.settle()


def test_areas_are_those_of_the_open_tuning(desk: Desk) -> None:
    s = desk.session
    desk.until(lambda: s.judging.standing is not None)
    assert s.testing._areas() is s.judging.judgement.labels  # type: ignore[union-attr]
    s.takes.change_recipe(by_hand(strength=30))
    assert s.testing._areas() is None, "those of another tuning are not told"
    desk.until(lambda: s.judging.standing is not None)
    assert s.testing._areas() is not None
    desk.settle()


def test_a_small_proof_of_the_whole(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.tested.small_proof(tmp_path / "proof.tif")
    desk.until(lambda: s.tested.last is not None)
    sheet = s.tested.last
    assert sheet is not None and sheet.plan.kind == "proof" and sheet.caption.startswith("Proof, not for hanging")
    (variant,) = sheet.variants
    frame = variant.rendition.frame
    assert (
        frame.size is not None
        and max(frame.size.width_cm, frame.size.height_cm) <= 27.7
        and frame.crop == desk.take.frame.crop
    )
    assert variant.rendition.sheet.caption.text == sheet.caption and (tmp_path / "proof.ticket.pdf").exists()
    assert variant.rendition.recipe == desk.take.recipe.renewed
    assert s.printing.ticket_request() is not None and s.printing.ticket_request().tested  # type: ignore[union-attr]
    # black and the wedges lie at its foot, under the line of type and above the edge no ink reaches
    from rehearsal.core.picture.file import read_picture

    back = read_picture(tmp_path / "proof.tif")
    ppi, card = back.info.ppi, s.now.condition
    assert card is not None and back.info.height < back.info.width
    foot, edge = back.info.height / ppi * 25.4, max(card.margins_mm[1], card.margins_mm[3], 5.0)
    row = back.pixels[round((foot - edge - 3) / 25.4 * ppi)]
    bare = int(back.pixels.max())
    inked = (row != bare).any(axis=1)
    steps = len(np.unique(row[inked], axis=0))
    assert 18 <= steps <= 26 and (back.pixels[round((foot - edge + 1) / 25.4 * ppi) :] == bare).all()
    assert (back.pixels[round((foot - edge - 8) / 25.4 * ppi)] == bare).all(), "bare between type and wedges"
    desk.settle()


def test_it_says_once_that_a_sheet_is_dry(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    card = s.now.condition
    assert card is not None
    s.shelf.change(replace(card, dry_hours=16.0))
    sheet = _written(desk, tmp_path / "a.tif", kind="bracket", count=3)
    out = datetime.fromisoformat(sheet.out)
    assert s.tested.wet_until(sheet, out + timedelta(hours=15)) and not s.tested.wet_until(
        sheet, out + timedelta(hours=16)
    )
    assert (
        s.tested.dries(sheet, out + timedelta(hours=4)) == pytest.approx(0.25)
        and s.tested.dries(sheet, out + timedelta(days=3)) == 1.0
    )
    later = s.tested

    class _Clock(datetime):
        moment = out + timedelta(hours=15)

        @classmethod
        def now(cls, tz: object = None) -> datetime:  # type: ignore[override]
            return cls.moment

    monkeypatch.setattr(tested, "datetime", _Clock)
    later._look_at_clock()
    assert not any("is dry" in text for text in desk.said)
    _Clock.moment = out + timedelta(hours=16, minutes=1)
    later._look_at_clock()
    later._look_at_clock()
    assert sum("Test sheet 1 is dry" in text for text in desk.said) == 1
    _Clock.moment = out + timedelta(hours=20)
    s.tested.mark_printed(sheet)
    assert s.tested.last is not None and s.tested.last.printed.startswith(_Clock.moment.date().isoformat())
    assert s.tested.wet_until(s.tested.last, _Clock.moment), "it dries from when it came out"
    monkeypatch.undo()
    desk.settle()


def test_a_masters_own_file_is_never_written_to(desk: Desk) -> None:
    s = desk.session
    _planned(desk, kind="bracket", count=3)
    master = s.now.master
    assert master is not None
    before = Path(master.path).read_bytes()
    s.tested.write(Path(master.path))
    s.tested.small_proof(Path(master.path))
    desk.settle()
    assert Path(master.path).read_bytes() == before and s.tested.all == []


def test_a_piece_by_hand_belongs_to_its_picture(desk: Desk) -> None:
    s = desk.session
    _planned(desk, pieces=(Crop(0.1, 0.1, 0.2, 0.2),))
    s.takes.change_recipe(by_hand(contrast=3))
    assert s.testing.plan.pieces == (Crop(0.1, 0.1, 0.2, 0.2),), "the same picture still"
    s.takes.open(_other_take(desk))
    assert s.testing.plan.pieces == ()
    desk.settle()


def test_a_printed_sheet_stays_on_show_while_the_take_is_changed(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    sheet = _written(desk, tmp_path / "test.tif", kind="bracket", first="contrast", step=8.0, count=6)
    s.testing.look_at(sheet)
    s.testing.point((2,))
    s.takes.change("view", view="on-paper")
    s.takes.change_recipe(by_hand(contrast=3))
    assert s.testing.sheet == sheet and s.testing.pointed == (2,)
    s.takes.open(_other_take(desk))
    assert s.testing.sheet is None and s.testing.pointed == ()
    desk.settle()
