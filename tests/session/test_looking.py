"""Looking is not choosing: along the papers nothing changes; choosing is an act of its own. And what comes in, goes and comes back."""

import zipfile
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np
import pytest
from tests.known import keep_verdict
from tests.session.conftest import Desk

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import space_bytes, wide_space_bytes
from rehearsal.core.proof.beyond import Lost
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import LEARNT, Step, Values, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.demo.make import demo_folder
from rehearsal.session import costs, shelf
from rehearsal.session.shelf import measured
from rehearsal.tasks.conditions import Facts, NoFacts
from rehearsal.tasks.judging import judged_colours
from rehearsal.workbook.values import Master, Take, Written

PROFILES = demo_folder() / "profiles"


def _others(desk: Desk) -> list[PrintCondition]:
    return [c for c in desk.session.shelf.conditions if not c.space and c.id != desk.take.condition]


def test_going_along_the_papers_shows_each_and_changes_nothing(desk: Desk) -> None:
    s, before = desk.session, desk.take
    kept = (s.book.all(Take), s.book.all(PrintCondition))
    judged = s.judging.judgement
    for condition in _others(desk):
        s.now.look_at(condition)
        desk.settle()
        assert s.now.card == condition and s.roads.shown is s.now.seen
        assert s.now.seen is not None and s.now.seen.rendition.destination.digest == condition.profile_digest
        assert s.judging.first_looked is not None and s.judging.first_looked.lost.share > 0
        assert desk.take == before and (s.book.all(Take), s.book.all(PrintCondition)) == kept
        assert s.judging.judgement is judged, "the figures stay the chosen paper's"
    s.now.look_at(None)
    desk.settle()
    assert s.roads.shown is s.now.opened and s.now.looked is None and s.judging.first_looked is None
    s.takes.undo()
    assert desk.said == [] and desk.take == before, "there is nothing of it to take back"


def test_looking_at_the_own_paper_is_no_looking(desk: Desk) -> None:
    s = desk.session
    s.now.look_at(s.now.condition)
    assert s.now.looked is None
    s.now.look_at(_others(desk)[0])
    s.now.look_at(s.now.condition)
    assert s.now.looked is None


def test_a_paper_that_cannot_be_opened_shows_no_other_ones_proof_under_its_name(desk: Desk) -> None:
    s = desk.session
    gone = s.shelf.add(PrintCondition(paper="Gone", printer="Skarn 24", profile_path="/nowhere/gone.icc"))
    s.now.look_at(gone)
    desk.settle()
    assert s.now.seen is s.now.opened and s.judging.first_looked is None


def test_choosing_what_is_looked_at(desk: Desk) -> None:
    s, other = desk.session, _others(desk)[0]
    s.now.look_at(other)
    s.takes.choose(other)
    assert desk.take.condition == other.id and s.now.looked is None and len(s.takes.of(desk.take.master)) >= 1
    desk.settle()


@pytest.mark.parametrize("how", ["tuned", "written"])
def test_a_worked_take_stays_and_another_is_made(desk: Desk, how: str) -> None:
    s, other = desk.session, _others(desk)[0]
    rendition = s.now.rendition
    assert rendition is not None
    if how == "tuned":
        s.takes.change_recipe(by_hand(contrast=8).having(Step(LEARNT, Values.of(lightness=1 / 3))))
    else:
        s.takes.change("write", written=Written("/prints/a.tif", rendition))
    s.takes.change_hand_over(media="Plain", feed="top", ppi=240.0)
    s.takes.render(Rendering("relative", False))
    before, count = desk.take, len(s.takes.of(desk.take.master))
    s.takes.choose(other)
    made = desk.take
    assert s.book.get(Take, before.id) == before and len(s.takes.of(made.master)) == count + 1
    assert made.id != before.id and made.condition == other.id and made.name == "" and made.written is None
    assert made.rendering == Rendering("relative", False), "the intent the user set stays"
    assert made.hand_over == replace(HandOver(), ppi=240.0), "what was set in the driver belonged to the other paper"
    kept = Values.of(contrast=8) if how == "tuned" else Values()
    assert made.recipe.total == kept, "what was learnt belonged to the other paper"
    s.takes.undo()
    assert desk.take == before
    s.takes.choose_condition(other)  # told to, the very take goes over
    assert desk.take.id == before.id and desk.take.condition == other.id
    desk.settle()


# ---- what comes in


def test_profiles_by_file_and_archive_end_alike(desk: Desk, tmp_path: Path) -> None:
    s, before = desk.session, desk.take
    gloss = (PROFILES / "SK24_SluiceGloss_Hi.icc").read_bytes()
    changed = bytearray(gloss)
    changed[44:48] = (7).to_bytes(4, "big")  # the header's flags: another profile with the same tables
    (tmp_path / "SK24_BrineLustre_WCRW.icc").write_bytes(bytes(changed))
    s.incoming.open_files([str(tmp_path / "SK24_BrineLustre_WCRW.icc")])
    desk.until(lambda: "added" in desk.topics[-1] or s.now.looked is not None)
    made = s.now.looked
    assert made is not None and made.unread == "Brine WCRW" and made.made_by == "" and desk.take == before
    assert (
        made.state("media_setting") == "empty"
        and made.state("paper") == "read"
        and "Only read from its name" in desk.said[-1]
    )
    changed[44:48] = (9).to_bytes(4, "big")
    with zipfile.ZipFile(tmp_path / "pack.zip", "w") as pack:
        pack.writestr("a/SK24_Tern_Hi.icc", bytes(changed))
        pack.writestr("a/again.icc", gloss)
        pack.writestr("a/monitor.icc", (PROFILES / "desk-screen-wide.icc").read_bytes())
    s.incoming.open_files([str(tmp_path / "pack.zip")])
    desk.until(lambda: s.now.looked is not None and s.now.looked.id != made.id)
    said = desk.said[-1]
    assert "is new on the shelf and not chosen yet" in said and "papers are new" not in said, "one of the three is new"
    assert "Sluice Gloss on Skarn 24 is already on the shelf" in said
    assert "screen's profile, not a paper's" in said, "one that is of no use does not stop the others"
    desk.settle()


def test_a_screens_profile_is_refused_as_a_paper_and_a_labs_space_is_not(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    count = len(s.shelf.conditions)
    (tmp_path / "mine.icc").write_bytes(wide_space_bytes(0.0))
    s.incoming.open_files([str(tmp_path / "mine.icc"), str(PROFILES / "desk-screen-wide.icc")])
    desk.until(lambda: any("not a paper's" in text for text in desk.said))
    assert len(s.shelf.conditions) == count
    (tmp_path / "lab.icc").write_bytes(space_bytes("opRGB"))
    s.incoming.open_files([str(tmp_path / "lab.icc")])
    desk.until(lambda: len(s.shelf.conditions) == count + 1)
    assert s.shelf.conditions[-1].made_by == "standard"
    desk.settle()


# ---- off the rack and back


def test_a_picture_comes_off_the_rack_with_its_takes_and_goes_back(desk: Desk) -> None:
    s, master = desk.session, desk.session.now.master
    assert master is not None
    s.takes.duplicate()
    before = (s.book.all(Master), s.book.all(Take))
    s.takes.remove_picture(master)
    desk.settle()
    assert s.book.get(Master, master.id) is None and s.takes.of(master.id) == []
    assert s.now.master is not None and s.now.master.id != master.id and s.takes.removed == master.name
    s.takes.restore()
    assert (s.book.all(Master), s.book.all(Take)) == before and s.now.master == master and s.takes.removed == ""
    s.takes.remove_picture(master)
    s.takes.undo()
    assert (s.book.all(Master), s.book.all(Take)) == before
    desk.settle()
    assert any("a picture taken off the rack" in said for said in desk.said)


def test_the_last_picture_can_go_and_its_file_stays(desk: Desk) -> None:
    s = desk.session
    paths = [Path(m.path) for m in s.takes.masters]
    for master in list(s.takes.masters):
        s.takes.remove_picture(master)
    assert s.now.take is None and s.now.picture is None and s.takes.masters == []
    assert all(path.exists() for path in paths)
    s.takes.undo()
    desk.settle()
    assert s.now.take is not None


# ---- as last time


def test_a_size_never_comes_without_its_crop(desk: Desk) -> None:
    s, first = desk.session, desk.take
    square = Frame(Crop(0.2, 0.1, 0.4, 0.6), PrintSize(30, 30))
    s.takes.change("frame", frame=square)
    desk.settle()
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    s.takes.change("frame", frame=Frame())
    s.last_time.take_over()
    assert "crop went along" in desk.said[-1]
    assert desk.take.frame == square, "of the same picture, its very frame"
    other = next(t for t in s.book.all(Take) if t.master != first.master)
    s.takes.open(other)
    desk.settle()
    s.takes.choose_condition(s.shelf.get(first.condition))  # type: ignore[arg-type]
    s.takes.change("frame", frame=Frame())
    s.last_time.take_over()
    made, picture = desk.take.frame, s.now.picture
    assert picture is not None and made.size == PrintSize(30, 30)
    _x, _y, w, h = made.crop.pixels(*picture.size)
    assert abs(w - h) <= 1, "what is printed is what the pane shows"
    desk.settle()


# ---- measuring


def test_one_paper_that_cannot_be_measured_does_not_end_the_measuring_of_the_others(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = desk.session
    real, papers = shelf.condition_facts, _others(desk)
    came: list[int] = []

    def measure(condition: PrintCondition, kept: dict) -> object:
        if condition.id == papers[0].id:
            raise ZeroDivisionError("a kind of damage nobody has thought of")
        if condition.id == papers[-1].id:
            came.append(len(s.shelf.facts))
        return real(condition, kept)

    monkeypatch.setattr(shelf, "measured", measured)  # as it is, not what is known of it already
    monkeypatch.setattr(shelf, "condition_facts", measure)
    s.shelf.facts.clear()
    s.shelf.measure()
    desk.settle()
    broken = s.shelf.facts[papers[0].id]
    assert isinstance(broken, NoFacts) and "cannot be measured" in broken.reason
    assert all(isinstance(s.shelf.facts[c.id], Facts) for c in papers[1:])
    assert came and any("facts" in t for t in desk.topics), "each is told when it is there"


def test_the_log_waits_until_a_print_is_dry(desk: Desk) -> None:
    s, now = desk.session, datetime(2026, 11, 27, 15, 0)
    condition, rendition = s.now.condition, s.now.rendition
    assert condition is not None and rendition is not None and condition.dry_hours == 24
    held = s.verdicts.held
    assert held is not None and held.printed == "" and s.verdicts.wet_until(held, now) == "", "nothing was written"
    s.takes.change("write", written=Written("/prints/a.tif", rendition, "2026-11-27T14:00", "2026-11-27T14:00"))
    held = s.verdicts.held
    assert held is not None and s.verdicts.wet_until(held, now) == "tomorrow, 14:00"
    s.shelf.change(condition.touched(dry_hours=1.0))
    assert s.verdicts.wet_until(held, now) == "", "an hour is over"
    s.shelf.change(condition.touched(dry_hours=0.0))
    assert s.verdicts.wet_until(held, datetime(2026, 11, 27, 14, 1)) == "", "nobody has told"


def test_losses_are_counted_once_and_a_paper_that_cannot_be_does_not_end_it(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, counted, real = desk.session, [], costs.losses
    broken = next(c for c in s.shelf.conditions if c.paper == "Old Quay")
    monkeypatch.setattr(costs, "judged_colours", lambda opened: (counted.append(1), judged_colours(opened))[1])

    def lose(colours: np.ndarray, paper: Profile) -> Lost:
        if paper.digest == broken.profile_digest:
            raise RehearsalError("the profile is damaged", "quay.icc", "choose another")
        return real(colours, paper)

    monkeypatch.setattr(costs, "losses", lose)
    s.bus.on(("lost",), s.costs.ask_lost)  # as the open station does
    s.costs.ask_lost()
    desk.until(lambda: not s.jobs.running)
    assert counted == [1], "not begun anew with each paper that is counted"
    assert {c.paper for c in s.shelf.conditions if s.costs.lost_on(c) is None} == {"Old Quay"}
    s.costs.ask_lost()
    assert not s.jobs.running and not any("damaged" in words for words in desk.said)
