"""What the window asks for in the background: reading pictures, measuring papers, hundreds of profiles."""

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for

from rehearsal.core.errors import Stopped
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.icc.write import assemble, table_tag, text_tag
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.advice import strong_parts
from rehearsal.core.proof.chain import Look, PrintChain
from rehearsal.core.proof.printmap import print_image
from rehearsal.core.proof.scout import _NODES, paper_cost
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.values.rendering import Rendering
from rehearsal.demo.make import demo_folder
from rehearsal.tasks import conditions, opening, scouting
from rehearsal.tasks.conditions import (
    Facts,
    NoFacts,
    condition_facts,
    facts_of,
    facts_to_keep,
    new_condition,
    with_profile,
)
from rehearsal.tasks.finding import find_profiles, look_at, matches, sheets_in
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.opening import new_masters, read_master
from rehearsal.tasks.scouting import scout, scout_sample

PROFILES = demo_folder() / "profiles"
DUNE = PROFILES / "SK24_WhiteDune_Hi.icc"


def _quiet(_share: float, _text: str) -> None:
    return None


@pytest.fixture
def two_pictures(tmp_path: Path, rng: np.random.Generator) -> tuple[Path, Path]:
    """Two small pictures, the second without a profile of its own."""
    pixels = (rng.random((60, 80, 3)) * 65535).astype(np.uint16)
    one, two = tmp_path / "one.tif", tmp_path / "two.tif"
    write_picture(pixels, working_space("ROMM"), 300, one)
    import pyvips

    pyvips.Image.new_from_array(pixels[::-1].copy()).copy(interpretation="rgb16").tiffsave(str(two))
    return one, two


# ---- opening


def test_the_last_picture_is_read_while_files_are_hashed(two_pictures: tuple[Path, Path]) -> None:
    opened = new_masters(list(two_pictures), _quiet)
    assert [m.name for m in opened.masters] == ["one", "two"] and opened.errors == []
    assert opened.last is not None and opened.last.info.path == opened.masters[-1].path
    np.testing.assert_array_equal(opened.last.pixels, read_picture(two_pictures[1]).pixels)


def test_a_bad_file_among_good_ones_is_told_and_loses_nothing(two_pictures: tuple[Path, Path], tmp_path: Path) -> None:
    bad = tmp_path / "bad.tif"
    bad.write_bytes(b"II*\0 no picture at all")
    opened = new_masters([two_pictures[0], bad], _quiet)
    assert [m.name for m in opened.masters] == ["one"] and opened.last is None
    assert len(opened.errors) == 1 and "bad.tif" in opened.errors[0].sentence()


def test_opening_can_be_stopped(two_pictures: tuple[Path, Path]) -> None:
    def stop(_share: float, _text: str) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        new_masters(list(two_pictures), stop)


def test_a_picture_read_ahead_is_not_read_again(
    two_pictures: tuple[Path, Path], monkeypatch: pytest.MonkeyPatch
) -> None:
    opened = new_masters([two_pictures[1]], _quiet)
    master = replace(opened.masters[0], assumed="opRGB")
    told: list[OpenPicture] = []

    def never(_path: object) -> Picture:
        raise AssertionError("read again")

    monkeypatch.setattr(opening, "read_picture", never)
    found = read_master(master, [], _quiet, told.append, opened.last)
    assert (found.master, found.state) == (master, "there") and found.open.digest == master.digest
    # an untagged picture is taken for what the user said, also when it was read before that was known
    names = {p.picture.info.profile_name for p in (found.open, told[0])}
    assert names == {working_space("opRGB").description}
    np.testing.assert_array_equal(told[0].picture.pixels, opened.last.pixels if opened.last else None)
    assert found.open.size == found.open.pyramid.size == (80, 60)


# ---- measuring papers


def test_papers_are_measured_once(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    first = condition_facts(new_condition(DUNE))
    assert isinstance(first, Facts)
    kept = json.loads(json.dumps({first.digest: facts_to_keep(first)}))
    monkeypatch.setattr(conditions, "measure", lambda _profile: pytest.fail("measured again"))
    again = condition_facts(new_condition(DUNE), kept)
    assert again == first and first.contrast > 20 and first.is_paper
    # the file was exchanged for another profile: what was kept does not count
    other = tmp_path / "other.icc"
    other.write_bytes((PROFILES / "SK24_SluiceGloss_Hi.icc").read_bytes())
    monkeypatch.undo()
    changed = condition_facts(replace(new_condition(DUNE), profile_path=str(other)), kept)
    assert isinstance(changed, Facts) and changed.contrast > 2 * first.contrast


def test_a_replaced_profile_takes_its_digest_along() -> None:
    other = with_profile(new_condition(DUNE), PROFILES / "SK24_SluiceGloss_Hi.icc")
    assert other.profile_digest == open_profile(PROFILES / "SK24_SluiceGloss_Hi.icc").digest
    assert other.profile_path.endswith("SK24_SluiceGloss_Hi.icc") and other.paper == new_condition(DUNE).paper


def test_facts_of_a_missing_profile_say_so() -> None:
    found = condition_facts(replace(new_condition(DUNE), profile_path="/nowhere/at all.icc"), {})
    assert isinstance(found, NoFacts) and "at all.icc" in found.reason


def test_odd_things_of_a_profile_are_kept_as_keys(baryta: Profile) -> None:
    found = facts_of(baryta)
    plain = facts_to_keep(found)
    assert {"kind": "version-4", "figures": [4.3]} in plain["notes"]
    assert "version 4.3: perceptual always compensates" in " ".join(note.words for note in found.notes)


# ---- hundreds of profiles


@pytest.fixture(scope="module")
def hundreds(tmp_path_factory: pytest.TempPathFactory, dune: Profile) -> Path:
    """Three hundred small printer profiles of two printers, every tenth a copy, with one guide in their folder."""
    home = tmp_path_factory.mktemp("hundreds")
    ramp = np.linspace(0, 1, 2)[None].repeat(3, axis=0)
    small = {
        "wtpt": dune.tags["wtpt"], "cprt": dune.tags["cprt"], "B2A1": table_tag(np.zeros((2, 2, 2, 3)), ramp, ramp),
    }  # fmt: skip
    for i in range(300):
        number = i - 1 if i % 10 == 9 else i
        printer = 17 if number % 2 else 24
        paper = f"{chr(65 + number // 2 // 26)}{chr(97 + number // 2 % 26)}reed"
        named = {**small, "desc": text_tag(f"Skarn {printer} {paper} Matte", 2)}
        (home / f"SK{printer}_{paper}_{i}.icc").write_bytes(assemble(named, "prtr", "RGB ", "Lab ", 2.4))
    (home / "how to print.txt").write_text("Choose the media setting named on the card.")
    return home


def test_hundreds_are_listed_grouped_and_searched(hundreds: Path) -> None:
    steps: list[str] = []
    found = find_profiles([hundreds], progress=lambda _share, text: steps.append(text))
    good = [f for f in found if not f.reason]
    assert (len(found), len(good)) == (300, 270) and found[:270] == good
    assert all(f.reason.startswith("duplicate: the same profile as SK") for f in found[270:])
    assert {f.printer for f in good} == {"Skarn 24", "Skarn 17"}
    assert [f.guess.paper for f in good if matches(f, "skarn 17 cxreed")] == ["Cxreed Matte"]
    assert all(f.instructions.endswith("how to print.txt") for f in good)
    assert "of 300 profiles" in steps[0]


def test_listing_goes_on_from_what_is_known(hundreds: Path) -> None:
    known: dict = {}
    first = find_profiles([hundreds], known)
    assert len(known) == 300
    assert find_profiles([hundreds], known) == first == find_profiles([hundreds])


def test_documents_beside_a_profile(tmp_path: Path) -> None:
    home = tmp_path / "pack"
    home.mkdir()
    (home / DUNE.name).write_bytes(DUNE.read_bytes())
    assert sheets_in(home) == [] and look_at(home / DUNE.name).instructions == ""
    (home / "photo.png").write_bytes(b"x")
    assert look_at(home / DUNE.name).instructions.endswith("photo.png"), "the only document there is"
    (home / "letter.txt").write_text("x")
    assert look_at(home / DUNE.name).instructions == "", "nothing tells which one it is"
    (home / "sk24_whitedune_hi.pdf").write_bytes(b"x")
    assert look_at(home / DUNE.name).instructions.endswith("sk24_whitedune_hi.pdf"), "the same name"
    assert sheets_in(tmp_path / "nowhere") == []


# ---- the scout


@pytest.fixture
def cloths(little_cloths: Path) -> OpenPicture:
    """The demo's cloths as an open picture."""
    return OpenPicture(read_picture(little_cloths), str(little_cloths))


def test_modelling_by_the_table_is_that_of_the_exact_road(cloths: OpenPicture, dune: Profile, gloss: Profile) -> None:
    sample = scout_sample(opened_for(cloths, dune))
    strong = strong_parts(sample.image_lab)
    for paper in (dune, gloss):
        chain = PrintChain(sample.master, paper, Rendering())
        exact = chain.printed(sample.image.reshape(-1, 3) / 65535.0).reshape(sample.image_lab.shape)
        kept = sample.windows.against(exact.astype(np.float32))
        fast = sample.windows.against(print_image(chain, sample.image, _NODES))
        assert fast.mean() == pytest.approx(kept.mean(), abs=0.002)
        assert fast.mean(strong) == pytest.approx(kept.mean(strong), abs=0.005)
        assert paper_cost(sample, paper, Rendering()).modelling == fast.mean()


def test_two_papers_at_a_time_come_in_their_places(
    cloths: OpenPicture, dune: Profile, gloss: Profile, baryta: Profile, screen: Profile
) -> None:
    papers = [opened_for(cloths, p) for p in (dune, gloss, baryta)]
    shown: dict[int, np.ndarray] = {}
    costs: dict[int, object] = {}
    shares: list[float] = []
    show: Callable = lambda i, rgb, _paper: shown.__setitem__(i, rgb)  # noqa: E731
    look = Look(screen, "on-paper")
    told: list[int] = []
    tell: Callable = lambda i, cost: (told.append(i), costs.__setitem__(i, cost))  # noqa: E731
    scout(papers, look, 90, show, tell, lambda share, _t: shares.append(share))
    sample = scout_sample(papers[0])
    for i, paper in enumerate(papers):
        first = paper_cost(sample, paper.paper, paper.rendition.rendering)
        assert costs[i] == replace(first, lost=judge_rendition(paper).beyond.lost)
    assert told == [0, 1, 2, 0, 1, 2], "a first estimate, then what all pixels say"
    assert shares == sorted(shares) and max(max(rgb.shape) for rgb in shown.values()) == 90
    # matte is lighter in its darks than the two others, by the pictures themselves
    assert np.percentile(shown[0], 2) > np.percentile(shown[1], 2) + 8


def test_the_scout_can_be_stopped_between_papers(
    cloths: OpenPicture, dune: Profile, screen: Profile, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(scouting, "cores", lambda: 2)  # two papers at a time, whatever this machine has
    told: list[int] = []

    def stop(share: float, _text: str) -> None:
        if share > 0.42:
            raise Stopped

    with pytest.raises(Stopped):
        scout(
            [opened_for(cloths, dune)] * 6, Look(screen, "fitted"), 60, lambda *_a: None, lambda i, _cost: told.append(i), stop,
        )  # fmt: skip
    assert told == [0, 1], "the papers after the stop were not worked on"
