"""The engine binding: standards, a separate road through the engine's own programs, damaged bytes."""

import subprocess
from pathlib import Path

import colour
import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import PRESS, demo_profile

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile, Step, Transform, destination_black, lab_profile, open_profile, write
from rehearsal.core.icc.engine import version
from rehearsal.core.icc.standard import bradford, colorants, space_bytes, working_space, xy_to_xyz
from rehearsal.core.values.rendering import INTENTS

FOLDERS = (Path("/usr/share/color/icc"), Path("/usr/share/color/icc/colord"), Path("/usr/share/color/icc/ghostscript"))


def to_lab(profile: Profile, values: np.ndarray, intent: str = "relative") -> np.ndarray:
    return Transform([Step(profile), Step(lab_profile(), intent)]).apply(values)


def test_bradford_matrix() -> None:
    # Lindbloom's table of chromatic adaptation matrices, D65 to D50
    published = [
        [1.0478112, 0.0228866, -0.0501270],
        [0.0295424, 0.9904844, -0.0170491],
        [-0.0092345, 0.0150436, 0.7521316],
    ]
    d65, d50 = np.array([0.95047, 1.0, 1.08883]), np.array([0.96422, 1.0, 0.82521])
    np.testing.assert_allclose(bradford(d65, d50), published, atol=2e-6)


@pytest.mark.parametrize(
    ("name", "other"), [("sRGB", "sRGB"), ("P3", "Display P3"), ("opRGB", "Adobe RGB (1998)"), ("ROMM", "ROMM RGB")]
)
def test_colorants_against_colour_science(name: str, other: str) -> None:
    # colour-science derives the same standards from their primaries
    space = colour.RGB_COLOURSPACES[other]
    ours = colorants(tuple(map(tuple, space.primaries)), tuple(space.whitepoint))
    white = xy_to_xyz(*space.whitepoint)
    theirs = bradford(white) @ colour.normalised_primary_matrix(space.primaries, space.whitepoint)
    np.testing.assert_allclose(ours, theirs, atol=1e-9)
    read = to_lab(working_space(name), np.ones((1, 3)))
    np.testing.assert_allclose(read, [[100, 0, 0]], atol=0.02)


def test_srgb_middle_grey() -> None:
    # IEC 61966-2-1: 0.5 decodes to 0.21404114
    found = to_lab(working_space("sRGB"), np.full((1, 3), 0.5))
    assert found[0, 0] == pytest.approx(116 * 0.2140411405 ** (1 / 3) - 16, abs=0.01)


@pytest.mark.parametrize("intent", INTENTS)
@pytest.mark.parametrize("compensate", [False, True])
def test_against_the_engines_own_program(intent: str, compensate: bool) -> None:
    # transicc of liblcms2-utils is a separate road through the same library
    values = np.array([[1.0, 0.5, 0.1], [0.1, 0.2, 0.7], [0.03, 0.03, 0.03], [0.9, 0.9, 0.95]])
    srgb = Path("/usr/share/color/icc/sRGB.icc")
    command = ["transicc", "-n", f"-i{srgb}", f"-o{PRESS}", f"-t{INTENTS.index(intent)}", "-c0"]
    if compensate and intent != "absolute":
        command.append("-b")
    text = "".join(f"{r * 255:.6f} {g * 255:.6f} {b * 255:.6f}\n" for r, g, b in values)
    out = subprocess.run(command, input=text, capture_output=True, text=True, check=True).stdout
    theirs = np.array([[float(v) for v in line.split()] for line in out.splitlines() if line.strip()]) / 100
    chain = Transform(
        [Step(open_profile(srgb)), Step(open_profile(PRESS), intent, compensate and intent != "absolute")]
    )
    np.testing.assert_allclose(chain.apply(values), theirs, atol=3e-4)


def test_integer_and_float_roads_agree(dune: Profile, rng: np.random.Generator) -> None:
    values = rng.integers(0, 65536, (500, 3)).astype(np.uint16)
    steps = [Step(working_space("ROMM")), Step(dune, "relative", True)]
    exact = Transform(steps).apply(values / 65535.0)
    words = Transform(steps, np.uint16, np.uint16).apply(values) / 65535
    octets = Transform(steps, np.uint16, np.uint8).apply(values) / 255
    assert np.abs(words - np.clip(exact, 0, 1)).max() < 0.004
    assert np.abs(octets - np.clip(exact, 0, 1)).max() < 0.008


@pytest.mark.parametrize("space", ["gray", "sRGB", "press"])
@pytest.mark.parametrize("kind", [np.uint8, np.uint16, np.float32, np.float64])
def test_every_kind_of_sample(space: str, kind: type, press: Profile, rng: np.random.Generator) -> None:
    profile = press if space == "press" else working_space(space)
    codes = rng.integers(0, 256, (300, profile.channels))
    values = (codes * (257 if kind == np.uint16 else 1)).astype(kind)
    if np.issubdtype(kind, np.floating):
        values = (codes / 255.0).astype(kind)
    exact = to_lab(profile, codes / 255.0)
    for out in (np.float32, np.float64):
        lab = Transform([Step(profile), Step(lab_profile())], kind, out).apply(values)
        assert lab.dtype == out and np.abs(lab - exact).max() < 0.05


def test_chains_of_many_steps_and_adaptation() -> None:
    # three spaces in a row leave an sRGB colour where it was; absolute white follows the adaptation asked for
    srgb, wide = working_space("sRGB"), working_space("ROMM")
    values = np.array([[0.2, 0.5, 0.8], [1.0, 1.0, 1.0]])
    chain = Transform([Step(srgb), Step(wide, "relative"), Step(wide), Step(srgb, "relative")])
    np.testing.assert_allclose(chain.apply(values), values, atol=2e-3)
    bluish = open_profile("/usr/share/color/icc/colord/Gamma6500K.icc")
    full, none = (
        Transform([Step(bluish), Step(lab_profile(), "absolute", False, state)]).apply(values[1:])[0]
        for state in (1.0, 0.0)
    )
    assert abs(full[2]) < 1 and none[2] < -10


def test_matrix_profile_keeps_what_was_written() -> None:
    made = Profile(space_bytes("opRGB"), "made")
    assert (made.space, made.header.version, made.description) == ("RGB", 4.3, "opRGB IEC 61966-2-5")
    assert made.is_matrix and made.is_destination and made.intents() == ["relative", "absolute"]


def test_lab_encoding_of_tables() -> None:
    # ICC.1:2022, 10.10: L* 100 is FF00h, a* and b* 0 are 8000h
    encoded = write.encode_lab(np.array([[100.0, 0.0, 0.0]])) * 65535
    np.testing.assert_allclose(encoded, [[0xFF00, 0x8000, 0x8000]], atol=1e-6)
    # and a* or b* -128 is 0000h, 127 is FF00h
    far = write.encode_lab(np.array([[0.0, -128.0, 127.0]])) * 65535
    np.testing.assert_allclose(far, [[0, 0, 0xFF00]], atol=1e-6)


def test_black_points_of_a_real_press(press: Profile) -> None:
    # the colorimetric table of this profile prints its darkest neutral near L* 13 to 17 (read with transicc)
    black = destination_black(press, "relative")
    assert 0.015 < black[1] < 0.03


def test_errors_carry_the_engines_words(dune: Profile) -> None:
    scanner = Profile(write.assemble({**_scanner_tags()}, "scnr", "RGB ", "Lab "), "scanner.icc")
    with pytest.raises(ProfileError, match=r"scanner\.icc"):
        Transform([Step(working_space("sRGB")), Step(scanner, "relative")])
    with pytest.raises(ProfileError, match="channels"):
        Transform([Step(dune), Step(lab_profile())]).apply(np.zeros((3, 4)))


def _scanner_tags() -> dict[str, bytes]:
    dune = demo_profile("SK24_WhiteDune_Hi.icc")
    return {k: dune.tags[k] for k in ("desc", "cprt", "wtpt", "A2B0")}


@pytest.mark.parametrize("folder", FOLDERS)
def test_every_installed_profile_opens_or_says_why(folder: Path) -> None:
    files = [f for f in folder.iterdir() if f.suffix.lower() in (".icc", ".icm")]
    assert files
    for path in files:
        profile = open_profile(path)
        assert profile.description
    pictures = [
        p for p in map(open_profile, files) if p.space in ("RGB", "Gray", "CMYK") and p.header.device_class != "nmcl"
    ]
    assert len(pictures) > len(files) / 2
    for profile in pictures:
        assert np.isfinite(to_lab(profile, np.full((1, profile.channels), 0.4))).all(), profile.where


@pytest.mark.parametrize("bad", [b"", b"x", b"\0" * 131, b"\0" * 4000, b"II*\0" + b"\0" * 300])
def test_bytes_that_are_no_profile(bad: bytes) -> None:
    with pytest.raises(ProfileError, match="not a usable colour profile"):
        Profile(bad, "bad.icc")


def _use(data: bytes) -> bool:
    """Open and use damaged bytes the way the program does; only our own error may come out. True when all colours are numbers."""
    found = []
    try:
        profile = Profile(data, "damaged.icc")
        profile.description, profile.intents(), profile.target_text
        if profile.channels in (1, 3, 4):
            for intent in ("perceptual", "relative", "absolute"):
                found.append(to_lab(profile, np.full((3, profile.channels), 0.3), intent).shape == (3, 3))
            if profile.is_destination:
                Transform([Step(lab_profile()), Step(profile, "relative", True)]).apply(np.array([[50.0, 10, 10]]))
    except ProfileError as error:
        return bool(error.what and error.do) and all(found)
    return all(found)


_REAL = [working_space("sRGB").data, PRESS.read_bytes(), demo_profile("OS17_OldQuay_Fine.icc").data]


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
@given(
    which=st.integers(0, 2),
    damage=st.lists(st.tuples(st.integers(0, 2500), st.integers(0, 255)), min_size=1, max_size=12),
)
def test_damaged_profiles_never_crash(which: int, damage: list[tuple[int, int]]) -> None:
    data = bytearray(_REAL[which])
    for place, value in damage:
        data[place % len(data)] = value
    assert _use(bytes(data))


@pytest.mark.parametrize("name", ["A2B0", "B2A1"])
@pytest.mark.parametrize(("place", "value"), [(8, 255), (8, 0), (9, 255), (10, 255), (10, 1), (10, 0)])
def test_huge_counts_in_a_table_are_refused(name: str, place: int, value: int) -> None:
    # channels in, channels out and nodes per side of a lut16Type (ICC.1:2022, 10.10)
    import struct

    data = bytearray(_REAL[2])
    count = struct.unpack(">I", data[128:132])[0]
    entries = [struct.unpack(">4sII", data[132 + 12 * i : 144 + 12 * i]) for i in range(count)]
    offset = next(o for n, o, _s in entries if n == name.encode())
    data[offset + place] = value
    with pytest.raises(ProfileError, match="is damaged"):
        Profile(bytes(data), "huge.icc")


@settings(max_examples=60, deadline=None)
@given(which=st.integers(0, 2), share=st.floats(0, 1))
def test_truncated_profiles_never_crash(which: int, share: float) -> None:
    assert _use(_REAL[which][: int(len(_REAL[which]) * share)])


@settings(max_examples=80, deadline=None)
@given(st.binary(min_size=0, max_size=700))
def test_random_bytes_never_crash(data: bytes) -> None:
    with pytest.raises(ProfileError):
        Profile(data, "random")


def test_a_missing_library_is_one_clear_line(monkeypatch: pytest.MonkeyPatch) -> None:
    from rehearsal.core.icc import engine as module

    def nowhere(name: str) -> None:
        raise OSError(name)

    monkeypatch.setattr(module.ct, "CDLL", nowhere)
    with pytest.raises(ProfileError, match="liblcms2-2") as caught:
        module.engine.__wrapped__()
    assert "\n" not in caught.value.sentence()


def test_engine_version() -> None:
    assert tuple(int(p) for p in version().split(".")) >= (2, 12)
