"""The simulated press and its queue: physics that a print has, seeds that hold, settings that stay on."""

from pathlib import Path

import numpy as np
import pytest

from rehearsal.core.errors import QueueError
from rehearsal.core.icc import Profile, Step, Transform, xyz_profile
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.sheet.printed import compare_prints, moved
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.devices.simulated.press import LoadedSheet, SeenPrint, SimulatedMeter, SimulatedPress, seen_in
from rehearsal.devices.simulated.queue import NAME, SECONDS_A4, SimulatedQueue

PER_MM = 2.0


@pytest.fixture
def sheet(dune: Profile) -> LoadedSheet:
    """Matte cotton in the tray."""
    return LoadedSheet(dune, 120.0, 160.0, "matte cotton", "smooth", "Fine art, smooth")


@pytest.fixture
def page(rng: np.random.Generator) -> np.ndarray:
    """A page with a picture of soft tones on it, bare paper around."""
    made = np.full((320, 240, 3), 255, dtype=np.uint8)
    soft = np.kron(rng.integers(30, 225, (15, 10, 1)), np.ones((16, 16, 1))) + rng.integers(-12, 12, (1, 1, 3))
    made[40:280, 40:200] = np.clip(soft, 0, 255).astype(np.uint8)
    return made


def _plan(page: np.ndarray, profile: Profile) -> np.ndarray:
    road = Transform([Step(profile), Step(xyz_profile(), "absolute")])
    return road.apply(page.reshape(-1, 3) / 255.0).reshape(*page.shape)


def test_a_machine_without_fault_prints_as_its_profile_says(page: np.ndarray, sheet: LoadedSheet) -> None:
    seen = SimulatedPress("calm", faulty=False).print_page(page, PER_MM, sheet, "Fine art, smooth")
    plan = _plan(page, sheet.profile)
    inner = np.s_[60:260:20, 60:180:20]  # away from edges, which the paper softens
    assert np.abs(seen.xyz - plan)[inner].mean() < 0.01
    found = compare_prints(plan, seen.xyz, seen.white, PER_MM)
    assert abs(found.stops) < 0.02 and abs(found.mired) < 0.5 and abs(found.right) < 0.05 and abs(found.down) < 0.05


def test_a_machine_has_its_own_truth_and_keeps_it(page: np.ndarray, sheet: LoadedSheet) -> None:
    one, again = (SimulatedPress("Skarn 24").print_page(page, PER_MM, sheet, feed="rear") for _ in range(2))
    np.testing.assert_array_equal(one.xyz, again.xyz)
    plan = _plan(page, sheet.profile)
    stops = []
    for i in range(25):
        seen = SimulatedPress(f"machine {i}").print_page(page, PER_MM, sheet, feed="rear")
        found = compare_prints(plan, seen.xyz, seen.white, PER_MM)
        stops.append(found.stops)
        assert abs(found.stops) <= 1 / 3 + 0.03 and np.hypot(found.right, found.down) <= 2.0
    assert min(stops) < -0.1 and max(stops) > 0.1 and np.std(stops) > 0.08


def test_the_comparison_finds_what_was_done_to_a_print(page: np.ndarray, sheet: LoadedSheet) -> None:
    """Against changes made here by other means: a known exposure in linear light about 18 %, a known move by whole pixels."""
    plan = _plan(page, sheet.profile)
    white = plan[0, 0]
    middle = plan[150, 100]
    odds = plan / white / (1 - np.clip(plan / white, 0, 0.999))
    g = 2**0.5 * 0.82 / (1 - 0.18 * 2**0.5)
    lighter = g * odds / (1 + g * odds) * white
    lighter[plan[..., 1] > white[1] * 0.999] = white
    moved_page = np.roll(lighter, (3, -2), axis=(0, 1))
    found = compare_prints(plan, moved_page, white, PER_MM)
    assert found.stops == pytest.approx(0.5, abs=0.06) and middle.shape == (3,)
    assert (found.right, found.down) == (pytest.approx(-1.0, abs=0.1), pytest.approx(1.5, abs=0.1))
    assert found.tones[:, 1].mean() > 3 and found.black > found.planned_black - 1
    warm = plan * np.array([1.01, 1.0, 0.93])
    assert compare_prints(plan, warm, white, PER_MM).mired > 4
    assert compare_prints(plan, plan * np.array([0.99, 1.0, 1.07]), white, PER_MM).mired < -4
    bare = np.broadcast_to(white, plan.shape)
    assert compare_prints(bare, bare, white, PER_MM).tones.shape == (0, 2)


def test_a_move_is_found_finer_than_a_pixel(rng: np.random.Generator) -> None:
    from scipy.ndimage import gaussian_filter, shift

    page = gaussian_filter(rng.random((200, 160)), 3)
    assert moved(page, shift(page, (1.4, -2.6), mode="nearest"), 2.0) == pytest.approx((-1.3, 0.7), abs=0.06)


def test_a_wrong_medium_is_far_too_dark_with_a_dull_black(page: np.ndarray, sheet: LoadedSheet) -> None:
    press = SimulatedPress("calm", faulty=False)
    right, wrong = (press.print_page(page, PER_MM, sheet, medium) for medium in ("Fine art, smooth", "Photo gloss"))
    assert wrong.xyz[60:260, 60:180, 1].mean() < right.xyz[60:260, 60:180, 1].mean() * 0.85
    black = np.zeros((40, 40, 3), dtype=np.uint8)
    dull, deep = (press.print_page(black, PER_MM, sheet, m).xyz[20, 20, 1] for m in ("Photo gloss", "Fine art, smooth"))
    assert dull > deep + 0.01


def test_a_print_dries_over_half_an_hour(page: np.ndarray, sheet: LoadedSheet) -> None:
    press = SimulatedPress("Skarn 24")
    light = [press.print_page(page, PER_MM, sheet, minutes=m).xyz[60:260, 60:180, 1].mean() for m in (0, 10, 30, 1e6)]
    assert light[0] < light[1] < light[2] <= light[3] and light[3] - light[2] < 0.12 * (light[3] - light[0])


def test_paper_spreads_light_and_ink_by_its_surface(sheet: LoadedSheet) -> None:
    edge = np.full((60, 60, 3), 255, dtype=np.uint8)
    edge[:, 30:] = 60
    press, per_mm = SimulatedPress("calm", faulty=False), 300 / 25.4
    widths = []
    for surface in ("gloss", "textured cotton"):
        rough = LoadedSheet(sheet.profile, 5, 5, surface)
        y = press.print_page(edge, per_mm, rough).xyz[30, :, 1]
        share = (y - y.min()) / (y.max() - y.min())
        widths.append(((share > 0.1) & (share < 0.9)).sum())
    assert widths[1] > widths[0]


def test_a_feed_shifts_and_stretches(sheet: LoadedSheet) -> None:
    cross = np.full((320, 240, 3), 255, dtype=np.uint8)
    cross[100, 60:180] = 0
    press = SimulatedPress("Skarn 24")
    place = press._place("rear")
    assert place != TruePlace() and place != press._place("top") and abs(place.along) <= 0.3
    seen = press.print_page(cross, PER_MM, sheet, feed="rear")
    row = float((1 - seen.xyz[:, 120, 1] / seen.white[1]).argmax())
    expected = (100 - 159.5) * (1 + place.along / 100) + 159.5 + place.down * PER_MM
    assert row == pytest.approx(expected, abs=1.0)
    small = SimulatedPress("calm", faulty=False).print_page(cross, PER_MM, sheet, scale=97.0)
    assert float((1 - small.xyz[:, 120, 1] / small.white[1]).argmax()) == pytest.approx(159.5 - 59.5 * 0.97, abs=1.0)


def test_under_a_warm_lamp_white_paper_looks_warmer_but_not_as_warm_as_the_lamp(sheet: LoadedSheet) -> None:
    seen = SeenPrint(np.ones((2, 2, 3)) * np.array([0.9642, 1.0, 0.8249]), 1.0, np.ones(3))
    warm, cool = seen_in(seen, 3000, 320)[0, 0], seen_in(seen, 6500, 320)[0, 0]
    assert warm[2] < 0.8249 < cool[2] and warm[2] > 0.55, "an eye goes along in part"
    assert seen_in(seen, 3000, 2000)[0, 0][2] > warm[2], "in bright light it goes along further"
    np.testing.assert_array_equal(seen_in(seen, 0, 320), seen.xyz)


def test_the_meter_reads_what_lies_under_its_opening() -> None:
    xyz = np.ones((100, 100, 3)) * 0.8
    xyz[:, 50:] = 0.2
    meter = SimulatedMeter(6.0)
    seen = SeenPrint(xyz, 2.0, np.ones(3))
    assert meter.read(seen, 10, 25) == pytest.approx([0.8] * 3, abs=0.003)
    assert meter.read(seen, 40, 25) == pytest.approx([0.2] * 3, abs=0.003)
    assert meter.read(seen, 25, 25) == pytest.approx([0.5] * 3, abs=0.05)
    assert meter.read(seen, 500, 500) == pytest.approx([1] * 3)


# ---- its queue


def _page() -> DrawnPage:
    return DrawnPage(np.full((30, 21, 3), 255, dtype=np.uint8), [], (), 210.0, 297.0, 2.54)


def test_its_queue_prints_at_its_own_pace_and_leaves_settings_on(tmp_path: Path) -> None:
    clock = [100.0]
    queue = SimulatedQueue(tmp_path, lambda: clock[0])
    assert queue.name == NAME and queue.offers().simulated
    option = queue.offers().option("speed")
    assert option is not None and option.default == "Off"
    job = queue.send(_page(), "t", [("Sheet", "A4"), ("Speed", "On"), ("Medium", "Baryta")])
    assert queue.state(job).key == "printing" and queue.state(job).words == "0 %"
    clock[0] += SECONDS_A4 / 2
    assert queue.state(job).words == "50 %"
    clock[0] += SECONDS_A4
    assert queue.state(job).key == "done"
    with pytest.raises(QueueError, match="printed already"):
        queue.stop(job)
    left = SimulatedQueue(tmp_path).offers()
    assert [o.default for o in left.options if o.role in ("speed", "media")] == ["Baryta", "On"], (
        "from the last job, also after a restart"
    )
    assert SimulatedQueue(tmp_path, lambda: clock[0]).state(job).key == "done"


def test_its_queue_stops_a_page_and_knows_no_other_settings(tmp_path: Path) -> None:
    queue = SimulatedQueue(tmp_path, lambda: 5.0)
    job = queue.send(_page(), "t", [])
    queue.stop(job)
    assert queue.state(job).key == "stopped" and queue.state("simulated-x").key == "failed"
    with pytest.raises(QueueError, match="knows no “Silk” for Medium"):
        queue.send(_page(), "t", [("Medium", "Silk")])
    with pytest.raises(QueueError, match="for Staple"):
        queue.send(_page(), "t", [("Staple", "None")])
    queue.leave(scale=97.0)
    assert queue.offers().scale == 97
    queue.unscale()
    assert queue.offers().scale == 100
    (tmp_path / "simulated-printer.json").write_text("no json")
    assert queue.offers().scale == 100, "what is damaged counts as nothing"
