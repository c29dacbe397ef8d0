"""A destination as numbers: its transforms, its sampled table, its white and black."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import lab_to_xyz, xyz_to_lab
from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.icc.standard import SPACES, working_space
from rehearsal.core.papers.nearest import nearest
from rehearsal.core.papers.solid import Solid, build_solid
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import in_slices

_NODES = {3: 65, 4: 19}
#: The solid needs every second node of three channels.
_SOLID_STEP = {3: 2, 4: 1}


def _grid(channels: int, n: int) -> np.ndarray:
    axis = np.linspace(0.0, 1.0, n)
    return np.stack(np.meshgrid(*[axis] * channels, indexing="ij"), axis=-1).reshape(-1, channels)


class PaperModel:
    """Everything a figure needs of a destination profile; computed on first use and kept.

    Args:
        profile: an RGB or CMYK profile that pixels can be converted to.

    Raises:
        ProfileError: the profile cannot be a destination.
    """

    def __init__(self, profile: Profile) -> None:
        check_destination(profile)
        self.profile = profile
        self.channels = profile.channels

    @once
    def to_lab(self) -> Transform:
        """Device values to media-relative Lab through the colorimetric table, uncompensated."""
        return Transform([Step(self.profile), Step(lab_profile(), "relative")])

    @once
    def to_absolute(self) -> Transform:
        """Device values to absolute Lab (adaptation state 1)."""
        return Transform([Step(self.profile), Step(lab_profile(), "absolute")])

    @once
    def from_lab(self) -> Transform:
        """Media-relative Lab to device values, relative colorimetric, uncompensated."""
        return Transform([Step(lab_profile()), Step(self.profile, "relative")])

    @once
    def paper_device(self) -> np.ndarray:
        """Device values of bare paper (channels,)."""
        return np.zeros(4) if self.profile.space == "CMYK" else np.ones(3)

    @once
    def white(self) -> np.ndarray:
        """Absolute Lab of the bare paper (3,)."""
        return self.to_absolute.apply(self.paper_device[None])[0]

    @property
    def bare_paper(self) -> np.ndarray | None:
        """Absolute Lab of the bare paper (3,); None for a working space, which has no paper to be bare."""
        return None if self.profile.is_matrix else self.white

    @once
    def black_device(self) -> np.ndarray:
        """What the relative table prints, uncompensated, for Lab 0, 0, 0."""
        return np.clip(self.from_lab.apply(np.zeros((1, 3)))[0], 0, 1)

    @once
    def black(self) -> np.ndarray:
        """Absolute Lab of the printed black (3,)."""
        return self.to_absolute.apply(self.black_device[None])[0]

    @once
    def relative_black(self) -> np.ndarray:
        """Media-relative Lab of the printed black (3,)."""
        return self.to_lab.apply(self.black_device[None])[0]

    @once
    def media_scale(self) -> np.ndarray:
        """XYZ factors (3,) from media-relative to absolute colorimetry."""
        relative = lab_to_xyz(self.to_lab.apply(self.paper_device[None])[0])
        absolute = lab_to_xyz(self.to_absolute.apply(self.paper_device[None])[0])
        return absolute / relative

    def absolute(self, relative: np.ndarray) -> np.ndarray:
        """Absolute Lab (..., 3) of media-relative Lab."""
        return xyz_to_lab(lab_to_xyz(relative) * self.media_scale)

    @once
    def ink_limit(self) -> float:
        """Largest ink sum: 99.99th percentile of what the relative table asks for over a Lab lattice."""
        if self.channels == 3:
            return 3.0
        lattice = np.stack(
            np.meshgrid(np.linspace(0, 100, 26), np.linspace(-100, 100, 26), np.linspace(-100, 100, 26), indexing="ij"),
            axis=-1,
        )
        inks = np.clip(self.from_lab.apply(lattice.reshape(-1, 3)), 0, 1)
        return float(np.percentile(inks.sum(axis=1), 99.99))

    @once
    def table(self) -> np.ndarray:
        """(n^channels, 3) media-relative Lab at equal steps of the device values."""
        grid = _grid(self.channels, _NODES[self.channels])
        made = np.empty((len(grid), 3))

        def work(part: slice) -> None:
            made[part] = self.to_lab.apply(grid[part])

        in_slices(len(grid), work)
        return made

    @once
    def solid(self) -> Solid:
        """Gamut solid, media-relative, step 1."""
        every = (slice(None, None, _SOLID_STEP[self.channels]),) * self.channels
        n = _NODES[self.channels]
        table = self.table.reshape(*(n,) * self.channels, 3)[every].reshape(-1, 3)
        return build_solid(table, self.channels, self.ink_limit, step=1.0)

    def nearest(self, lab: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Nearest printable colours of media-relative Lab (m, 3), started from the profile's own answer.

        Sixteen random starts find nothing better up to δ 8. Further out CIEDE2000 itself has false valleys (its
        mean hue jumps for opposite hues), which one start near the profile's answer avoids.

        Returns:
            device values (m, channels), their Lab read back exactly (m, 3), ΔE₀₀ as the search saw it (m,).
        """
        lab = np.ascontiguousarray(lab, dtype=np.float64)
        start = np.clip(self.from_lab.apply(lab), 0, 1)
        device, table_lab, delta = nearest(lab, start, self.table, self.ink_limit)
        if self.channels == 3:
            return device, self.to_lab.apply(device), delta
        self._without_black(lab, device, table_lab, delta)
        # the coarse four-ink table bends between its nodes: aim once more with its error taken off
        aim = lab + table_lab - self.to_lab.apply(device)
        device, _, _ = nearest(aim, device, self.table, self.ink_limit)
        best = self.to_lab.apply(device)
        return device, best, delta_e_2000(lab, best)

    def _without_black(self, lab: np.ndarray, device: np.ndarray, table_lab: np.ndarray, delta: np.ndarray) -> None:
        """Four inks have a second valley: start again with the black exchanged for colours; keep the better (in place)."""
        far = np.flatnonzero(delta > 0.15)
        if not len(far):
            return
        other = device[far].copy()
        other[:, :3] = np.clip(other[:, :3] + 0.6 * other[:, 3:], 0, 1)
        other[:, 3] = 0.0
        again, again_lab, better = nearest(lab[far], other, self.table, self.ink_limit)
        won = better < delta[far]
        device[far[won]], table_lab[far[won]], delta[far[won]] = again[won], again_lab[won], better[won]


def check_destination(profile: Profile) -> None:
    """Raise ProfileError when pixels cannot be converted into this profile's space for a print."""
    kind = profile.header.class_name
    if profile.header.device_class in ("link", "abst", "nmcl"):
        raise ProfileError(f"this is a {kind} profile, not a paper", profile.where, "choose a printer profile")
    if not profile.is_destination:
        raise ProfileError(
            f"this {kind} profile can only be read from, not printed to", profile.where, "choose a printer profile"
        )
    if profile.space not in ("RGB", "CMYK"):
        raise ProfileError(f"this is a {profile.space} profile", profile.where, "choose an RGB or CMYK printer profile")


#: Largest ΔE*ab over a grid of colours by which a profile still is a standard space under another name.
_SAME_SPACE = 1.0


def check_paper(profile: Profile) -> None:
    """Raise ProfileError unless this is a printer's profile, or a standard working space as labs ask for."""
    check_destination(profile)
    if profile.header.device_class != "prtr" and not standard_space(profile):
        kind = "screen's" if profile.header.device_class == "mntr" else profile.header.class_name
        raise ProfileError(
            f"this is a {kind} profile, not a paper's", profile.where, "choose the profile of printer and paper"
        )


def standard_space(profile: Profile) -> str:
    """Which standard working space an RGB profile is, whatever it calls itself; empty when none."""
    if profile.space != "RGB" or not profile.is_matrix:
        return ""
    grid = _grid(3, 5)
    here, *spaces = (
        Transform([Step(p), Step(lab_profile(), "relative")]).apply(grid)
        for p in (profile, *map(working_space, SPACES))
    )
    for name, lab in zip(SPACES, spaces, strict=True):
        if float(np.abs(lab - here).max()) <= _SAME_SPACE:
            return name
    return ""


def check_screen(profile: Profile) -> None:
    """Raise ProfileError when a profile cannot be a monitor's."""
    if profile.space != "RGB" or profile.header.device_class not in ("mntr", "spac"):
        kind = f"{profile.header.class_name} profile ({profile.space})"
        raise ProfileError(f"this is a {kind}, not a monitor's", profile.where, "choose the profile of a monitor")
    check_destination(profile)


paper_model = per_profile(PaperModel)


def white_xyz(model: PaperModel) -> np.ndarray:
    """Absolute XYZ (3,) of the bare paper, perfect diffuser Y = 1."""
    return lab_to_xyz(model.white)
