"""The commands as other programs call them: keys, exit status, one line of error, no half-written file."""

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from tests.conftest import PRESS

from rehearsal.commands.cli import run
from rehearsal.core.icc.standard import space_bytes
from rehearsal.demo.make import demo_folder

PAPER = str(demo_folder() / "profiles" / "SK24_WhiteDune_Hi.icc")
SCREEN = str(demo_folder() / "profiles" / "desk-screen-wide.icc")


def _json(capsys: pytest.CaptureFixture[str], *arguments: str) -> dict:  # type: ignore[type-arg]
    assert run(list(arguments)) == 0
    return json.loads(capsys.readouterr().out)  # type: ignore[no-any-return]


def test_inspect_keys(capsys: pytest.CaptureFixture[str]) -> None:
    facts = _json(capsys, "inspect", str(PRESS), "--json")
    assert set(facts) == {
        "description", "class", "colour_space", "pcs", "version", "intents", "media_white", "black",
        "compensation_black", "contrast", "dmax", "gamut_volume", "noise", "neutral_drift", "warnings",
    }  # fmt: skip
    assert facts["colour_space"] == "CMYK" and facts["class"] == "printer" and facts["pcs"] == "Lab"
    assert set(facts["noise"]) == {"median", "p95"} and set(facts["neutral_drift"]) == {"chroma", "at_lightness"}
    assert facts["contrast"] == pytest.approx(10 ** facts["dmax"] * ((facts["media_white"][0] + 16) / 116) ** 3)


def test_judge_keys(capsys: pytest.CaptureFixture[str], little_cloths: Path) -> None:
    found = _json(
        capsys, "judge", str(little_cloths), "--paper", PAPER, "--screen", SCREEN, "--intent", "perceptual", "--json"
    )
    assert set(found) == {
        "picture", "paper", "intent", "bpc", "limit", "beyond_paper", "beyond_screen", "change", "fitted_change", "areas",
        "specks", "flat", "intents", "advice", "sentence",
    }  # fmt: skip
    assert {"width", "height", "depth", "profile"} <= set(found["picture"])
    beyond = found["beyond_paper"]
    assert set(beyond) == {
        "share", "share_full", "loses_colour", "loses_depth", "mean_loss", "colour", "by_cause", "colder_than_paper",
    }  # fmt: skip
    assert sum(beyond["by_cause"].values()) == pytest.approx(beyond["share"])
    assert beyond["colour"] == pytest.approx(beyond["by_cause"]["too_light"] + beyond["by_cause"]["too_saturated"])
    assert {"share", "cause", "hue", "median", "p99", "modelling", "contrast_kept", "box"} <= set(found["areas"][0])
    assert {(c["intent"], c["bpc"]) for c in found["intents"]} >= {
        ("relative", True),
        ("relative", False),
        ("perceptual", True),
    }
    assert found["advice"]["verdict"] in ("clear", "trade", "alike", "no_visible_difference")
    without = _json(capsys, "judge", str(little_cloths), "--paper", PAPER, "--json", "--limit", "4")
    assert "beyond_screen" not in without and without["beyond_paper"]["share"] < beyond["share"]
    again = _json(capsys, "judge", str(little_cloths), "--paper", PAPER, "--json", "--limit", "4")
    assert again == without
    assert found["sentence"].startswith(f"{beyond['share']:.0f} % of this picture lies beyond this paper")


def test_judge_speaks_in_lines_without_json(capsys: pytest.CaptureFixture[str], little_cloths: Path) -> None:
    sentence = _json(capsys, "judge", str(little_cloths), "--paper", PAPER, "--json")["sentence"]
    assert run(["judge", str(little_cloths), "--paper", PAPER]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert lines[0] == sentence and lines[-1].strip().startswith("specks: ")
    heading = lines.index("Areas beyond the paper, largest first:")
    assert heading > 1 and "too dark: " in lines[heading + 1] and "ΔE₀₀" in lines[heading + 1]


def test_untagged_pictures_are_named(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    Image.new("RGB", (40, 30), (200, 30, 20)).save(tmp_path / "bare.png")
    assert run(["judge", str(tmp_path / "bare.png"), "--paper", PAPER, "--json"]) == 0
    captured = capsys.readouterr()
    assert "no embedded profile" in captured.err and json.loads(captured.out)["picture"]["assumed"]
    (tmp_path / "p3.icc").write_bytes(space_bytes("P3"))
    wide = _json(
        capsys, "judge", str(tmp_path / "bare.png"), "--paper", PAPER, "--assume", str(tmp_path / "p3.icc"), "--json"
    )
    assert wide["picture"]["profile"] == "Display P3"


@pytest.mark.parametrize("view", ["fitted", "true-black", "on-paper", "on-paper-bright", "in-its-light"])
def test_proof_against_the_engines_own_program(view: str, little_cloths: Path, tmp_path: Path) -> None:
    out = tmp_path / "proof.tif"
    assert (
        run(
            ["proof", str(little_cloths), "--paper", PAPER, "--screen", SCREEN, "--paper-view", view, "--out", str(out)]
        )
        == 0
    )
    with Image.open(out) as image:
        assert image.size == (210, 140) and image.info["icc_profile"] == Path(SCREEN).read_bytes()
    if view not in ("fitted", "true-black"):
        return
    # tificc of liblcms2-utils: picture to paper, then paper to screen, both at 16 bit
    paper, other = tmp_path / "paper.tif", tmp_path / "other.tif"
    bpc = ["-b"] if view == "fitted" else []
    subprocess.run(
        ["tificc", "-b", "-t1", "-w16", "-c0", f"-o{PAPER}", str(little_cloths), str(paper)],
        check=True,
        capture_output=True,
    )
    subprocess.run(
        ["tificc", *bpc, "-t1", "-w16", "-c0", f"-i{PAPER}", f"-o{SCREEN}", str(paper), str(other)],
        check=True,
        capture_output=True,
    )
    from rehearsal.core.picture.file import read_picture

    gap = np.abs(read_picture(out).pixels.astype(int) - read_picture(other).pixels.astype(int)) / 257
    assert gap.mean() < 0.15 and np.percentile(gap, 99.5) < 1.5


def test_convert_both_routes(little_cloths: Path, tmp_path: Path) -> None:
    before = little_cloths.read_bytes()
    ready, lab_file = tmp_path / "ready.tif", tmp_path / "lab.jpg"
    assert (
        run(["convert", str(little_cloths), "--paper", PAPER, "--size", "10x8cm", "--ppi", "254", "--out", str(ready)])
        == 0
    )
    (tmp_path / "srgb.icc").write_bytes(space_bytes("sRGB"))
    command = [
        "convert",
        str(little_cloths),
        "--space",
        str(tmp_path / "srgb.icc"),
        "--size",
        "10x10cm",
        "--fit",
        "inside",
    ]
    assert run([*command, "--depth", "8", "--out", str(lab_file)]) == 0
    named = tmp_path / "named.tif"  # a working space goes by its name as well, whatever its capitals
    assert run(["convert", str(little_cloths), "--space", "OPrgb", "--out", str(named)]) == 0
    with Image.open(named) as image:
        assert image.info["icc_profile"] == space_bytes("opRGB")
    with Image.open(ready) as image:
        assert image.size == (1000, 800) and image.info["icc_profile"] == Path(PAPER).read_bytes()
    with Image.open(lab_file) as image:
        assert image.size == (1181, 787) and image.mode == "RGB"
    assert little_cloths.read_bytes() == before
    assert (
        run(
            ["convert", str(little_cloths), "--paper", str(PRESS), "--depth", "8", "--out", str(tmp_path / "press.tif")]
        )
        == 0
    )
    with Image.open(tmp_path / "press.tif") as image:
        assert image.mode == "CMYK"


BAD = [
    (["inspect", "/nowhere.icc"], "cannot be read"),
    (["inspect", "{text}"], "not a usable colour profile"),
    (["judge", "{text}", "--paper", PAPER], "not a TIFF, JPEG or PNG picture"),
    (["judge", "{picture}", "--paper", "/usr/share/color/icc/colord/Crayons.icc"], "not a paper"),
    (["judge", "{picture}", "--paper", "/usr/share/color/icc/ghostscript/default_gray.icc"], "Gray profile"),
    (["convert", "{picture}", "--paper", PAPER, "--out", "/nowhere/a.tif"], "folder is missing"),
    (["convert", "{picture}", "--paper", PAPER, "--out", "/sys/a.tif"], "cannot be written"),
    (["convert", "{picture}", "--paper", str(PRESS), "--out", "/tmp/a.png"], "four inks"),
    (["convert", "{picture}", "--paper", PAPER, "--size", "big", "--out", "a.tif"], "30x20cm"),
    (["convert", "{picture}", "--paper", PAPER, "--out", "{picture}"], "never written to"),
    (["convert", "{picture}", "--paper", PAPER, "--ppi", "0", "--out", "a.tif"], "resolution"),
    (["judge", "{picture}", "--paper", PAPER, "--screen", str(PRESS)], "not a monitor's"),
    (["proof", "{picture}", "--paper", PAPER, "--screen", PAPER, "--out", "a.tif"], "not a monitor's"),
]


@pytest.mark.parametrize(("arguments", "words"), BAD)
def test_errors_are_one_line(
    arguments: list[str], words: str, capsys: pytest.CaptureFixture[str], little_cloths: Path, tmp_path: Path
) -> None:
    text = tmp_path / "a.txt"
    text.write_text("hello")
    before = little_cloths.read_bytes()
    filled = [a.replace("{text}", str(text)).replace("{picture}", str(little_cloths)) for a in arguments]
    assert run(filled) == 2
    captured = capsys.readouterr()
    lines = captured.err.strip().splitlines()
    assert len(lines) == 1 and lines[0].startswith("rehearsal: ") and words in lines[0]
    assert captured.out == "" and little_cloths.read_bytes() == before


def test_a_scanner_profile_is_no_paper(capsys: pytest.CaptureFixture[str], little_cloths: Path, tmp_path: Path) -> None:
    from rehearsal.core.icc import Profile, write

    tags = Profile(Path(PAPER).read_bytes()).tags
    scanner = tmp_path / "scanner.icc"
    scanner.write_bytes(write.assemble({k: tags[k] for k in ("desc", "cprt", "wtpt", "A2B0")}, "scnr", "RGB ", "Lab "))
    assert run(["judge", str(little_cloths), "--paper", str(scanner)]) == 2
    error = capsys.readouterr().err
    assert "scanner profile can only be read from" in error and "choose a printer profile" in error


@pytest.mark.parametrize(
    "arguments", [["judge"], ["judge", "a.tif", "--paper", "b", "--intent", "best"], ["convert", "a", "--out", "b"]]
)
def test_wrong_words_are_one_line(arguments: list[str], capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as ended:
        run(arguments)
    captured = capsys.readouterr()
    assert ended.value.code == 2 and len(captured.err.strip().splitlines()) == 1


def test_the_installed_command(little_cloths: Path, tmp_path: Path) -> None:
    program = Path(sys.executable).with_name("rehearsal")
    done = subprocess.run(
        [str(program), "judge", str(little_cloths), "--paper", "/nowhere"], capture_output=True, text=True, check=False
    )
    assert done.returncode == 2 and "Traceback" not in done.stderr
