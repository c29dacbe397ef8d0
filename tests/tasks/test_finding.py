"""Finding profiles: folders, duplicates, wrong and broken files, archives that mean well and ill."""

import os
import zipfile
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import PRESS

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc.standard import space_bytes
from rehearsal.demo.make import demo_folder
from rehearsal.devices.screenfile import read_screen_file, screen_file_text
from rehearsal.tasks import finding
from rehearsal.tasks.conditions import condition_from
from rehearsal.tasks.finding import find_profiles, look_at, matches, profile_files, standard_folders, unpack

PROFILES = demo_folder() / "profiles"
DUNE = PROFILES / "SK24_WhiteDune_Hi.icc"


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Good, doubled, wrong and broken profiles."""
    home = tmp_path / "profiles"
    (home / "deep" / "deeper").mkdir(parents=True)
    (home / DUNE.name).write_bytes(DUNE.read_bytes())
    (home / "deep" / "copy of it.icm").write_bytes(DUNE.read_bytes())
    (home / "deep" / "deeper" / "OS17_OldQuay_Fine.ICC").write_bytes((PROFILES / "OS17_OldQuay_Fine.icc").read_bytes())
    (home / "space.icc").write_bytes(space_bytes("sRGB"))
    (home / "broken.icc").write_bytes(DUNE.read_bytes()[:5000])
    (home / "empty.icc").write_bytes(b"")
    (home / "words.icc").write_text("this is no profile at all, only words, and more of them" * 9)
    (home / "notes.txt").write_text("no profile")
    return home


def test_all_are_found_and_sorted(folder: Path) -> None:
    found = find_profiles([folder])
    assert len(found) == 7 and len(profile_files([folder, folder])) == 7
    good = [f for f in found if not f.reason]
    assert [f.guess.paper for f in good] == ["Old Quay", "White Dune"] and good == found[:2]
    reasons = {Path(f.path).name: f.reason for f in found if f.reason}
    assert reasons["space.icc"].startswith("wrong class: a screen profile")
    assert all(reasons[name].startswith("broken") for name in ("broken.icc", "empty.icc", "words.icc"))
    doubled = reasons.get("copy of it.icm") or reasons[DUNE.name]
    assert doubled.startswith("duplicate: the same profile as")


def test_search_and_groups(folder: Path) -> None:
    found = find_profiles([folder])
    assert [f.guess.paper for f in found if matches(f, "quay ostrel")] == ["Old Quay"]
    assert {f.printer for f in found if not f.reason} == {"Skarn 24", "Ostrel 17"}
    assert len([f for f in found if matches(f, "")]) == len(found)
    assert not [f for f in found if matches(f, "unheard-of")]


def test_known_files_are_not_read_again(folder: Path) -> None:
    known: dict = {}
    first = find_profiles([folder], known)
    assert len(known) == 7
    marker = next(iter(known))
    known[marker] = known[marker].__class__(**{**known[marker].__dict__, "description": "remembered"})
    assert any(f.description == "remembered" for f in find_profiles([folder], known))
    (folder / DUNE.name).write_bytes((PROFILES / "SK24_SluiceGloss_Hi.icc").read_bytes())
    again = find_profiles([folder], known)
    assert len(again) == len(first) and any(f.guess.paper == "Sluice Gloss" for f in again)


def test_a_real_press_profile_is_looked_at() -> None:
    found = look_at(PRESS)
    assert found.reason == "" and found.space == "CMYK"
    assert look_at(Path("/nowhere/at all.icc")).reason.startswith("it cannot be read")


def test_standard_folders_follow_the_environment(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    # XDG base directory specification
    (tmp_path / "data" / "icc").mkdir(parents=True)
    (tmp_path / "shared" / "color" / "icc").mkdir(parents=True)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_DATA_DIRS", f"{tmp_path}/shared:{tmp_path}/missing")
    found = standard_folders()
    assert found[0] == tmp_path / "data" / "icc" and tmp_path / "shared" / "color" / "icc" in found
    assert all(f.is_dir() for f in found)


def _archive(path: Path, files: dict[str, bytes]) -> Path:
    with zipfile.ZipFile(path, "w") as pack:
        for name, data in files.items():
            pack.writestr(name, data)
    return path


def test_archive_with_its_instruction_sheet(tmp_path: Path) -> None:
    files = {
        "White Dune/SK24_WhiteDune_Hi.icc": DUNE.read_bytes(), "White Dune/Printing instructions.txt": b"Media: fine art",
        "White Dune/program.exe": b"no", "__MACOSX/._x.icc": b"no",
    }  # fmt: skip
    made = unpack(_archive(tmp_path / "White Dune.zip", files), tmp_path / "home")
    assert [p.name for p in made] == ["SK24_WhiteDune_Hi.icc"]
    kept = sorted(p.name for p in made[0].parent.iterdir())
    assert kept == ["Printing instructions.txt", "SK24_WhiteDune_Hi.icc"]
    condition = condition_from(look_at(made[0]))
    assert Path(condition.instructions).read_bytes() == b"Media: fine art"
    assert (condition.paper, condition.printer, condition.quality) == ("White Dune", "Skarn 24", "High")
    assert {"quality", "printer"} <= set(condition.read) and condition.state("quality") == "read"
    assert condition.state("feed") == "empty" and condition.made_by == "", "who made a profile is asked, never asserted"
    # dropped again it lands in the same place
    assert unpack(tmp_path / "White Dune.zip", tmp_path / "home") == made


def test_archives_that_mean_ill_stay_inside(tmp_path: Path) -> None:
    files = {"../../evil.icc": DUNE.read_bytes(), "/abs/other.icc": b"x" * 200, "..\\..\\win.icc": b"y" * 200}
    made = unpack(_archive(tmp_path / "evil.zip", files), tmp_path / "home")
    assert {p.name for p in made} == {"evil.icc", "other.icc", "win.icc"}
    assert all((tmp_path / "home") in p.parents for p in made)
    assert not (tmp_path / "evil.icc").exists() and not (tmp_path.parent / "evil.icc").exists()


def test_two_of_one_name_are_both_kept(tmp_path: Path) -> None:
    files = {"a/paper.icc": DUNE.read_bytes(), "b/paper.icc": (PROFILES / "SK24_WhiteDune_own.icc").read_bytes()}
    assert [p.name for p in unpack(_archive(tmp_path / "two.zip", files), tmp_path)] == ["paper 2.icc", "paper.icc"]


def test_archives_without_use_are_refused(tmp_path: Path) -> None:
    with pytest.raises(RehearsalError, match="holds no profile"):
        unpack(_archive(tmp_path / "none.zip", {"a.txt": b"x"}), tmp_path)
    (tmp_path / "torn.zip").write_bytes(b"PK\x03\x04 torn")
    with pytest.raises(RehearsalError, match="cannot be unpacked"):
        unpack(tmp_path / "torn.zip", tmp_path)
    whole = _archive(tmp_path / "cut.zip", {"a.icc": DUNE.read_bytes()})
    raw = bytearray(whole.read_bytes())
    raw[200:400] = b"\0" * 200
    whole.write_bytes(bytes(raw))
    with pytest.raises(RehearsalError, match="cannot be unpacked"):
        unpack(whole, tmp_path)
    assert [p for p in tmp_path.rglob("*.icc")] == [], "nothing half unpacked is left"


@given(st.binary(max_size=400))
def test_any_bytes_can_be_looked_at(data: bytes) -> None:
    import tempfile

    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "x.icc"
        path.write_bytes(data)
        assert look_at(path).reason


def test_screen_readings_go_out_and_come_back(tmp_path: Path) -> None:
    import numpy as np

    rgb = np.array([[1.0, 1, 1], [0, 0, 0], [0.5, 0.5, 0.5]])
    xyz = np.array([[86.0, 90.0, 74.0], [0.09, 0.09, 0.08], [18.0, 19.0, 16.0]])
    path = tmp_path / "screen.txt"
    path.write_text(screen_file_text(rgb, xyz, "screen").replace("\n", "\r\n"))
    got_rgb, got_xyz = read_screen_file(path, 120)
    np.testing.assert_allclose(got_rgb, rgb, atol=1e-4)
    np.testing.assert_allclose(got_xyz, xyz, atol=1e-3)
    # relative readings (white has Y = 100) take the luminance that is known
    path.write_text(screen_file_text(rgb, xyz / 0.9, "screen"))
    assert read_screen_file(path, 120)[1][0, 1] == pytest.approx(120)
    # device values 0 to 255
    path.write_text(screen_file_text(rgb * 2.55, xyz, "screen"))
    np.testing.assert_allclose(read_screen_file(path, 120)[0], rgb, atol=1e-3)


@pytest.mark.parametrize(
    "text",
    [
        "nothing",
        "BEGIN_DATA_FORMAT\nRGB_R RGB_G RGB_B LAB_L\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2 3 4\nEND_DATA",
        "BEGIN_DATA_FORMAT\nRGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\nBEGIN_DATA\n0 0 0 1 1 1\nEND_DATA",
        "BEGIN_DATA_FORMAT\nRGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\nBEGIN_DATA\n100 100 100 a b c\nEND_DATA",
        "BEGIN_DATA_FORMAT\nRGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\nBEGIN_DATA\n100 100 100 nan nan nan\nEND_DATA",
    ],
)
def test_other_files_are_refused_with_a_sentence(tmp_path: Path, text: str) -> None:
    path = tmp_path / "x.txt"
    path.write_text(text)
    with pytest.raises(RehearsalError) as caught:
        read_screen_file(path, 100)
    assert caught.value.do and caught.value.what


def test_unreasonable_archives_are_refused_for_their_size_or_their_number(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    few, many = {"a.icc": bytes(300)}, {f"{i}.icc": b"" for i in range(501)}
    assert len(unpack(_archive(tmp_path / "most.zip", dict(list(many.items())[:500])), tmp_path)) == 500
    with pytest.raises(RehearsalError, match="unreasonably large"):
        unpack(_archive(tmp_path / "many.zip", many), tmp_path)
    monkeypatch.setattr(finding, "_MOST_UNPACKED", 300)
    assert unpack(_archive(tmp_path / "few.zip", few), tmp_path)
    monkeypatch.setattr(finding, "_MOST_UNPACKED", 299)
    with pytest.raises(RehearsalError, match="unreasonably large"):
        unpack(tmp_path / "few.zip", tmp_path)


def test_archives_that_are_no_files_or_are_damaged_get_a_sentence(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.zip")
    whole = _archive(tmp_path / "whole.zip", {"a.icc": bytes(range(256)) * 40}).read_bytes()
    for method in (zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2):
        with zipfile.ZipFile(tmp_path / "packed.zip", "w", method) as pack:
            pack.writestr("a.icc", np.random.default_rng(1).bytes(3000))
        data = bytearray((tmp_path / "packed.zip").read_bytes())
        data[60:260] = b"\xff" * 200
        (tmp_path / f"packed {method}.zip").write_bytes(data)
    (tmp_path / "cut.zip").write_bytes(whole[:-30])
    for path in sorted(tmp_path.glob("*.zip")):
        if path.name in ("whole.zip", "packed.zip"):
            continue
        with pytest.raises(RehearsalError, match="cannot be unpacked") as caught:
            unpack(path, tmp_path / "home")
        assert str(path) in caught.value.sentence()
    assert not list((tmp_path / "home").rglob("*.part"))


def test_the_copies_an_archiver_adds_are_left_in_the_archive(tmp_path: Path) -> None:
    # resource forks lie under __MACOSX in archives made by one kind of machine (common practice, no source)
    files = {"paper.icc": DUNE.read_bytes(), "__MACOSX/paper.icc": b"no", ".hidden.icc": b"no"}
    made = unpack(_archive(tmp_path / "forks.zip", files), tmp_path)
    assert [p.name for p in made] == ["paper.icc"] and made[0].read_bytes() == DUNE.read_bytes()
