"""Work answers with the value it was given, never with what is open when it ends; without a window."""

from __future__ import annotations

import gc
import threading
import weakref
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import demo_profile, opened_for
from tests.known import keep_verdict
from tests.session.conftest import Desk

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.file import read_picture
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.session import incoming, inquiries, judging, printing, roads, tested
from rehearsal.session.jobs import Job
from rehearsal.tasks import writing
from rehearsal.tasks.judging import first_figures_of
from rehearsal.tasks.writing import write_print_file
from rehearsal.workbook.home import cache_home
from rehearsal.workbook.values import Take


class Gate:
    """Holds work back until it is let through."""

    def __init__(self) -> None:
        self.begun, self.go = threading.Event(), threading.Event()

    def before(self, work: Callable) -> Callable:  # type: ignore[type-arg]
        """The same work, held back."""

        def held(*args, **named):  # type: ignore[no-untyped-def]
            self.begun.set()
            assert self.go.wait(60)
            return work(*args, **named)

        return held


@pytest.fixture
def gate() -> Iterator[Gate]:
    made = Gate()
    yield made
    made.go.set()


def _other_take(desk: Desk) -> Take:
    first = desk.take
    return next(t for t in desk.session.book.all(Take) if t.master != first.master)


def test_the_ticket_beside_a_file_is_of_that_file(
    desk: Desk, tmp_path: Path, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, first, master = desk.session, desk.take, desk.session.now.master
    seen = []
    real = writing.write_ticket_pdf

    def noted(ticket, path, replace=True):  # type: ignore[no-untyped-def]
        seen.append(ticket)
        return real(ticket, path, replace)

    monkeypatch.setattr(writing, "write_ticket_pdf", noted)
    monkeypatch.setattr(printing, "write_with_ticket", gate.before(printing.write_with_ticket))
    rendition = s.now.rendition
    s.printing.write(tmp_path / "A.tif")
    assert gate.begun.wait(30)
    # meanwhile everything is changed: the take, then another take is open
    s.takes.change_recipe(by_hand(lightness=1, strength=20))
    s.takes.open(_other_take(desk))
    desk.settle_but_writing()
    gate.go.set()
    desk.settle()
    rows = [(row.label, row.text) for row in dict(seen[0].sections)["The print"]]
    assert master is not None and seen[0].title.startswith(master.name)
    assert ("Tuning", "none") in rows and ("File", "A.tif") in rows and (tmp_path / "A.ticket.pdf").exists()
    assert not any("judged" in words for words in seen[0].cautions), "it was judged as this very rendition"
    # what was written is kept with the take it was asked for, as it was then; that take's later tuning stays
    kept = s.book.get(Take, first.id)
    assert kept is not None and kept.file.endswith("A.tif") and kept.written is not None
    assert kept.written.rendition == rendition and kept.recipe.total["strength"] == 20
    assert s.now.take is not None and s.now.take.file == ""


def test_a_file_and_a_test_sheet_do_not_stop_each_other(
    desk: Desk, tmp_path: Path, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, first = desk.session, desk.take
    for module, name in ((printing, "write_with_ticket"), (tested, "write_test_page")):
        monkeypatch.setattr(module, name, gate.before(getattr(module, name)))
    s.printing.write(tmp_path / "one.tif")
    desk.until(lambda: s.testing.made is not None)
    s.tested.write(tmp_path / "test.tif")
    s.takes.open(_other_take(desk))
    desk.settle_but_writing()
    s.printing.write(tmp_path / "two.tif")
    assert sum(job.kind in ("write", "test") for job in s.jobs.running) == 3
    gate.go.set()
    desk.settle()
    assert {p.name for p in tmp_path.glob("*.tif")} >= {"one.tif", "two.tif", "test.tif"}
    assert s.book.get(Take, first.id).file.endswith("one.tif")  # type: ignore[union-attr]
    assert desk.take.file.endswith("two.tif")


def test_a_judgement_that_comes_late_is_not_taken_for_what_is_open(
    desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    real = judging.judge_rendition
    monkeypatch.setattr(judging, "judge_rendition", gate.before(real))
    s.judging.judge(anew=True)
    assert gate.begun.wait(30)
    asked = s.now.rendition
    late = next(job for job in s.jobs.running if job.kind == "judge")
    assert late == Job("judge", asked)
    s.takes.change_recipe(by_hand(strength=-50))
    assert not s.judging.is_current
    gate.go.set()
    desk.settle()
    judged = s.judging.judgement
    assert judged is not None and judged.rendition == s.now.rendition != asked


def test_an_answer_of_another_rendition_is_dropped_even_when_nobody_stopped_it(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    before = s.judging.judgement
    real = judging.judge_rendition
    other = replace(s.now.rendition, recipe=by_hand(strength=9))  # type: ignore[type-var]
    monkeypatch.setattr(judging, "judge_rendition", lambda *a, **n: replace(real(*a, **n), rendition=other))
    s.judging.judge(anew=True)
    desk.until(lambda: not s.jobs.is_running("judge"))
    assert s.judging.judgement is before


def test_figures_are_carried_over_when_only_the_hand_over_changes(desk: Desk) -> None:
    s = desk.session
    before = s.judging.judgement
    s.takes.change_hand_over(format="jpeg")
    after = s.judging.judgement
    assert before is not None and after is not None and not s.jobs.is_running("judge")
    assert after.rendition == s.now.rendition != before.rendition and after.beyond is before.beyond
    assert s.judging.is_current
    s.takes.change_frame(crop=Crop(0, 0, 0.5, 0.5))
    assert not s.judging.is_current, "the crop counts at once, before anything is judged"
    s.takes.undo()
    desk.settle()


def test_figures_are_never_carried_over_to_another_look(desk: Desk) -> None:
    s = desk.session
    before = s.judging.judgement
    assert before is not None
    for change in (
        lambda: s.takes.change_recipe(by_hand(strength=-50)),
        lambda: s.takes.change_frame(crop=Crop(0, 0, 0.4, 0.4)),
        lambda: s.takes.render(Rendering("perceptual")),
    ):
        held = s.judging.judgement
        change()
        s.judging._later.stop()
        assert not s.judging.is_current, "not even when nothing is on its way"
        s.judging.judge()
        desk.settle()
        made = s.judging.judgement
        assert made is not None and held is not None and made.rendition == s.now.rendition
        assert made.change != held.change, "other figures, not the old ones under another name"


def test_the_logbook_keeps_what_was_written_not_what_the_take_has_become(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=6))
    desk.settle()
    s.printing.write(tmp_path / "print.tif")
    desk.settle()
    printed = s.now.rendition
    s.handed.say_printed()
    s.takes.change_recipe(by_hand(contrast=40))
    entry = keep_verdict(s, 1.0, 0.0, 0.0, "usable", "")
    assert entry is not None and entry.rendition == printed and entry.rendition.recipe.total["contrast"] == 6
    assert entry.file.endswith("print.tif") and entry.condition_card == s.now.condition
    desk.settle()


# ---- the file holds what was judged


def test_a_tuned_cropped_take_is_written_and_read_back(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(lightness=1 / 3, contrast=12, strength=15, warmth=8))
    s.takes.change_frame(crop=Crop(0.2, 0.1, 0.5, 0.6), size=None)
    s.takes.render(Rendering("perceptual"))
    desk.settle()
    opened = s.now.opened
    assert opened is not None
    made = read_picture(write_print_file(opened, tmp_path / "print.tif").file)
    # the readout under the pointer says what each pixel prints as
    x0, y0, w, h = opened.box
    assert (made.info.width, made.info.height) == (w, h)
    from rehearsal.core.papers.model import paper_model

    for x, y in ((0, 0), (w // 2, h // 3), (w - 1, h - 1), (17, 60)):
        reading = s.inquiries.read(x0 + x, y0 + y)
        assert reading is not None
        printed = paper_model(opened.paper).to_lab.apply(made.pixels[y, x][None] / 65535.0)[0]
        np.testing.assert_allclose(printed, reading.printed, atol=0.1)
    untuned = opened_for(opened.open, opened.paper, frame=opened.rendition.frame, rendering=opened.rendition.rendering)
    plain = read_picture(write_print_file(untuned, tmp_path / "plain.tif").file)
    assert np.abs(plain.pixels.astype(float) - made.pixels).mean() > 500, "and the tuning is in it"
    desk.settle()


# ---- what stands on the screen


def test_first_figures_of_another_rendition_are_not_shown(
    desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    monkeypatch.setattr(judging, "first_figures_of", gate.before(judging.first_figures_of))
    opened = s.now.opened
    assert opened is not None
    s.judging._ask_first(opened)
    assert gate.begun.wait(30)
    s.takes.change_recipe(by_hand(strength=-40))
    gate.go.set()
    desk.until(lambda: not s.jobs.is_running("first"))
    assert s.judging.first is None
    s.judging._ask_first(s.now.opened)  # type: ignore[arg-type]
    desk.settle()
    assert s.judging.first is not None


def test_an_exact_look_of_an_earlier_tuning_is_not_shown(
    desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=30))
    real = ScreenRoad.exact
    monkeypatch.setattr(ScreenRoad, "exact", gate.before(real))
    desk.until(gate.begun.is_set)
    held = {j: r for j, r in s.jobs._current.items() if j.kind == "exact"}
    # the newer tuning comes while the exact look of the older one is being baked, and nobody stops that
    s.takes.change_recipe(by_hand(contrast=-30))
    s.roads._settle.stop()
    s.jobs._current.update(held)
    moving = s.roads.painter
    gate.go.set()
    desk.until(lambda: not s.jobs.is_running("exact"))
    assert s.roads.painter is moving
    desk.settle()


def test_no_other_papers_proof_stands_for_a_profile_that_is_gone(desk: Desk, tmp_path: Path) -> None:
    s, condition = desk.session, desk.session.now.condition
    assert condition is not None and s.roads.painter is not None
    s.shelf.change(replace(condition, profile_path=str(tmp_path / "gone.icc"), profile_digest="gone"))
    assert s.roads.road is None and s.roads.painter is None and not s.judging.is_current
    trouble = s.now.trouble
    assert trouble is not None and trouble.kind == "profile" and "gone.icc" in trouble.words and desk.said == []
    s.takes.undo()
    desk.settle()
    assert s.roads.painter is not None and s.now.trouble is None


def test_a_rival_road_that_comes_late_is_dropped_with_its_take(
    desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, first = desk.session, desk.take
    rival = next(c for c in s.shelf.conditions if c.id != first.condition)
    monkeypatch.setattr(roads, "_bake", gate.before(roads._bake))
    s.roads.set_rival(rival)
    desk.until(gate.begun.is_set)
    s.takes.open(_other_take(desk))
    gate.go.set()
    desk.settle()
    opened = s.now.opened
    assert s.roads.rival_road is None and s.roads.road is not None and opened is not None
    assert s.roads.road is s.roads._kept.peek(roads._key(opened, s.roads.look))


def test_another_view_leaves_the_figures_current(desk: Desk) -> None:
    s = desk.session
    before = s.judging.judgement
    s.takes.change(view="on-paper")
    assert s.judging.is_current and s.judging.judgement is before
    # away and back again: what is at hand counts at once
    s.takes.change_recipe(by_hand(strength=20))
    s.takes.undo()
    assert s.judging.is_current and s.judging.judgement is before
    desk.settle()


def test_a_judgement_under_way_is_not_begun_again(desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch) -> None:
    s, asked = desk.session, []
    real = judging.judge_rendition

    def noted(opened, *args, **named):  # type: ignore[no-untyped-def]
        asked.append(opened.rendition)
        return real(opened, *args, **named)

    monkeypatch.setattr(judging, "judge_rendition", gate.before(noted))
    s.takes.change_recipe(by_hand(strength=12))
    s.judging.judge()
    assert gate.begun.wait(30)
    s.judging.judge()
    gate.go.set()
    desk.settle()
    assert asked == [s.now.rendition]
    # but for another screen, default or prescription it is
    condition = s.now.condition
    assert condition is not None
    gate.go.clear()
    s.takes.change_recipe(by_hand(strength=14))
    s.judging.judge()
    s.shelf.change(replace(condition, default_intent="saturation", prescribed=True))
    s.judging.judge()
    gate.go.set()
    desk.settle()
    judged = s.judging.judgement
    assert judged is not None and judged.advice.rendering == Rendering("saturation")


def test_figures_are_not_current_while_newer_ones_are_made(
    desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    assert s.judging.is_current
    monkeypatch.setattr(judging, "judge_rendition", gate.before(judging.judge_rendition))
    s.judging.judge(anew=True)
    assert gate.begun.wait(30)
    judged = s.judging.judgement
    assert judged is not None and judged.rendition == s.now.rendition and not s.judging.is_current
    gate.go.set()
    desk.settle()
    assert s.judging.is_current


def test_what_arrived_is_never_told_of_another_picture(desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    monkeypatch.setattr(inquiries, "look_at_picture", gate.before(inquiries.look_at_picture))
    s.inquiries.ask_arrival()
    assert gate.begun.wait(30)
    s.takes.open(_other_take(desk))
    assert not s.jobs.is_running("arrival")
    gate.go.set()
    desk.settle()
    assert s.inquiries.arrival is None
    s.inquiries.ask_arrival()
    desk.settle()
    assert s.inquiries.arrival is not None


def test_tables_of_paper_and_screen_are_kept_for_the_next_start(empty_cache: Path, desk: Desk) -> None:
    session = desk.session
    session.judging.judge(anew=True)
    desk.until(lambda: not session.jobs.running)
    assert session.now.paper is not None
    kept = {path.stem for path in (cache_home() / "tables").iterdir()}
    assert kept == {session.now.paper.digest, session.screen.profile.digest}


def test_a_paper_that_is_chosen_later_has_its_kept_tables_too(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """And they are not overwritten by fewer."""
    s, asked = desk.session, []
    real = s.judging._tables.fetch
    monkeypatch.setattr(s.judging._tables, "fetch", lambda profile: (asked.append(profile.digest), real(profile))[1])
    s.takes.choose_condition(next(c for c in s.shelf.conditions if c.printer and c != s.now.condition))
    desk.settle()
    assert s.now.paper is not None and s.now.paper.digest in asked


def test_another_paper_has_first_figures_of_its_own(desk: Desk, gate: Gate, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    other = next(c for c in s.shelf.conditions if c.printer and c != s.now.condition)
    monkeypatch.setattr(judging, "judge_rendition", gate.before(judging.judge_rendition))
    s.takes.choose_condition(other)
    desk.until(lambda: s.judging.first is not None)
    opened, judged = s.now.opened, s.judging.judgement
    assert opened is not None and judged is not None and not s.judging.is_current
    assert s.judging.first == first_figures_of(opened)
    assert judged.rendition.destination != opened.rendition.destination and s.judging.lost is None
    s.takes.change_recipe(by_hand(strength=-40))  # they are of what is wanted no more
    assert s.judging.first is None
    gate.go.set()
    desk.settle()
    assert s.judging.judgement is not None and s.judging.lost == s.judging.judgement.beyond.lost
    s.takes.render(Rendering("perceptual"))
    assert s.judging.lost is not None, "the rendering has no part in it"
    s.takes.change_recipe(by_hand(strength=-30))
    assert s.judging.lost is None
    assert s.judging.first is None, "this paper was judged: the old sentence stays, as such"


def test_work_that_was_stopped_or_failed_holds_nothing(desk: Desk) -> None:
    """Without the collector: what the work had in hand goes when it ends."""
    held: list[weakref.ref[Kept]] = []

    def work(progress: Callable[[float, str], None]) -> None:
        large = Kept()
        held.append(weakref.ref(large))
        if len(held) == 1:
            desk.home.post(lambda: desk.session.jobs.stop("held"))
            while True:
                progress(0.5, "waiting to be stopped")
        raise RehearsalError("it failed", "here", "try again")

    gc.collect()
    gc.disable()
    try:
        for i in range(2):
            desk.session.jobs.run(Job("held", i), work, lambda _r: None)
            desk.until(lambda: bool(held) and not desk.session.jobs.is_running("held"))
            desk.until(lambda i=i: len(held) > i and held[i]() is None, 10)
    finally:
        gc.enable()


@pytest.mark.parametrize("gone", [False, True])
def test_profiles_that_come_late_do_not_call_back(
    desk: Desk, tmp_path: Path, gate: Gate, monkeypatch: pytest.MonkeyPatch, gone: bool
) -> None:
    s = desk.session
    paths = []
    for i, name in enumerate(("SK24_WhiteDune_Hi.icc", "SK24_SluiceGloss_Hi.icc")):
        data = Path(demo_profile(name).where).read_bytes()
        paths.append(tmp_path / f"SK24_Fresh{i}.icc")
        paths[-1].write_bytes(data.replace(b"Skarn 24", b"Fresh %d " % i))
    monkeypatch.setattr(incoming, "read_profiles", gate.before(incoming.read_profiles))
    s.incoming.open_files([str(path) for path in paths])
    assert gate.begun.wait(30)
    if gone:
        s.takes.open(_other_take(desk))
    gate.go.set()
    desk.until(lambda: not s.jobs.is_running("add"))
    said = next(text for text in desk.said if "new on the shelf" in text)
    assert ("is shown" in said) is not gone and (s.now.looked is None) is gone
    assert any("added" in topics for topics in desk.topics) is not gone


class Kept:
    """Something that can be watched."""
