"""The window moved between two screens, each with its own profile and light; two real screens of the offscreen platform."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from rehearsal.demo.make import demo_folder

PROFILES = demo_folder() / "profiles"

#: Run in a process of its own, since the screens are chosen when the program starts.
_SCRIPT = """
import json, sys
from dataclasses import replace
from pathlib import Path
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
app = QApplication([])
from tests.desk.conftest import pixels, wait_until_settled
from rehearsal.desk import theme
from rehearsal.desk.start import make_window
from rehearsal.tasks.conditions import new_condition
from rehearsal.workbook.store import Workbook
book_path, picture, paper, wide = sys.argv[1:]
theme.load_fonts()
book = Workbook(Path(book_path))
book.put(replace(new_condition(Path(paper)), printer="Skarn 24"))
window = make_window(book, [picture])
window._show_first_sight = lambda: None  # no lines by themselves
said, out = [], []
window.session.bus.said.connect(lambda m: said.append(m.text))
window.resize(1200, 700)
window.show()

def note(step):
    wait_until_settled(window)
    screen = window.session.screen.record
    painted = pixels(window.pair)[40:]  # without the head, where undo stands
    out.append({
        "step": step, "on": window.screen().name(), "key": window.session.screen.key, "profile": screen.profile_path,
        "lux": screen.lux, "white": screen.white, "said": list(said), "pixels": [float(v) for v in painted.mean(axis=(0, 1))],
        "road": window.session.roads.road.look.screen.description,
    })
    said.clear()

note("start")
window.session.screen.set(profile_path=wide, lux=640.0, white=110.0)
note("profile of the first screen")
window.move(1400, 40)
note("moved to the right")
window.session.screen.set(white=160.0)
window.move(10, 10)
note("back")
window.move(1400, 40)
note("right again")
window.close()
print(json.dumps(out))
"""


@pytest.fixture(scope="module")
def steps(tmp_path_factory: pytest.TempPathFactory, little_cloths: Path) -> dict[str, dict]:
    """What the window was like at each step."""
    home = tmp_path_factory.mktemp("screens")
    layout = home / "screens.json"
    layout.write_text(
        json.dumps(
            {
                "screens": [
                    {"name": "Left", "x": 0, "y": 0, "width": 1280, "height": 800, "dpr": 1},
                    {"name": "Right", "x": 1280, "y": 0, "width": 1920, "height": 1080, "dpr": 1},
                ]
            }
        )
    )
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")} | {
        "QT_QPA_PLATFORM": f"offscreen:configfile={layout}",
        "XDG_DATA_HOME": str(home / "data"),
        "PYTHONPATH": str(Path(__file__).parents[2]),
    }
    done = subprocess.run(
        [sys.executable, "-c", _SCRIPT, str(home / "book.sqlite"), str(little_cloths),
         str(PROFILES / "SK24_WhiteDune_Hi.icc"), str(PROFILES / "desk-screen-wide.icc")],
        capture_output=True, text=True, env=env, check=False, timeout=200,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    return {step["step"]: step for step in json.loads(done.stdout.splitlines()[-1])}


def test_each_screen_has_its_own_record(steps: dict[str, dict]) -> None:
    first, right, back, again = (
        steps[n] for n in ("profile of the first screen", "moved to the right", "back", "right again")
    )
    assert [s["on"] for s in (first, right, back, again)] == ["Left", "Right", "Left", "Right"]
    assert first["profile"].endswith("desk-screen-wide.icc") and right["profile"] == ""
    assert right["lux"] == 640, "the light of the room stays"
    assert back["profile"] == first["profile"] and (back["white"], again["white"]) == (110, 160)


def test_moving_says_what_is_missing_and_only_once(steps: dict[str, dict]) -> None:
    right = " ".join(steps["moved to the right"]["said"])
    assert "another screen now (Right" in right and "say which profile it has" in right
    assert not [t for n in ("back", "right again") for t in steps[n]["said"] if "another screen" in t]


def test_the_proof_is_painted_for_the_screen_it_is_on(steps: dict[str, dict]) -> None:
    start, left, right, back = (
        steps[n] for n in ("start", "profile of the first screen", "moved to the right", "back")
    )
    assert "sRGB" in right["road"] and left["road"] == back["road"] != right["road"]
    assert right["pixels"] == pytest.approx(start["pixels"], abs=0.01), "sRGB until a profile is known, as at the start"
    # the wide screen needs less of its own red, green and blue for the same colours
    assert back["pixels"] == pytest.approx(left["pixels"], abs=0.01)
    assert max(abs(a - b) for a, b in zip(left["pixels"], right["pixels"], strict=True)) > 0.5
