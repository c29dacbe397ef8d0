"""How far the fast road is from the exact one: shares, causes, areas and contour lines, on demo and open photographs."""

from __future__ import annotations

import numpy as np
from scipy import ndimage
from skimage import data as open_photographs

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import Picture, PictureInfo, read_picture
from rehearsal.core.picture.reduce import fit_within, reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.areas import find_areas
from rehearsal.core.proof.beyond import LIMIT, causes, find_beyond
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.proof.contours import isolines, smooth_field
from rehearsal.core.proof.lattice import DeltaLattice, delta_lattice
from rehearsal.core.proof.modelling import MasterWindows
from rehearsal.core.proof.printmap import print_image
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.demo.make import demo_folder
from rehearsal.demo.pictures import NAMES, demo_picture
from rehearsal.tasks import maps

_PAPERS = ("SK24_WhiteDune_Hi.icc", "SK24_SluiceGloss_Hi.icc")
_OPEN = ("astronaut", "coffee", "chelsea", "rocket")


class ExactField(DeltaLattice):
    """The same answers without the lattice: the search itself for every colour (each distinct one once)."""

    def prepare(self, lab: np.ndarray) -> None:
        """There are no nodes."""

    def read(self, flat: np.ndarray) -> np.ndarray:
        """δ and P* (m, 4), exact."""
        distinct, place = np.unique(flat, axis=0, return_inverse=True)
        want = distinct.astype(np.float64)
        best = self.model.nearest(want)[1]
        delta = np.where((d := delta_e_2000(want, best)) < 0.06, 0.0, d)
        return np.concatenate([delta[:, None], best], axis=1).astype(np.float32)[place.ravel()]


def pictures(most: int, quick: bool = False) -> list[tuple[str, np.ndarray, Profile]]:
    """Name, 16-bit pixels, at most so many, and profile of all demo pictures and some open photographs; quick, of one of each."""
    made = []
    for path in map(demo_picture, NAMES[: 1 if quick else None]):
        picture = read_picture(path)
        h, w = picture.pixels.shape[:2]
        made.append(
            (
                path.stem,
                reduce_to(picture.pixels, master_space(picture.profile), *fit_within(w, h, most)),
                picture.profile,
            )
        )
    for name in _OPEN[: 1 if quick else None]:
        pixels = np.ascontiguousarray(getattr(open_photographs, name)()[..., :3]).astype(np.uint16) * np.uint16(257)
        h, w = pixels.shape[:2]
        made.append(
            (
                name,
                reduce_to(pixels, master_space(working_space("sRGB")), *fit_within(w, h, most)),
                working_space("sRGB"),
            )
        )
    return made


def figures(quick: bool = False) -> None:
    """Share, causes and areas of every picture on two papers, fast against exact."""
    gaps: dict[str, list[float]] = {"share": [], "cause": [], "areas": [], "print": []}
    for file in _PAPERS[: 1 if quick else None]:
        paper = open_profile(demo_folder() / "profiles" / file)
        fast, exact = delta_lattice(paper), ExactField(paper)
        for name, pixels, profile in pictures(20_000 if quick else 240_000, quick):
            space = master_space(profile)
            lab = space.to_lab(pixels)
            chain = PrintChain(profile, paper, Rendering())
            printed = print_image(chain, pixels)
            direct = (
                chain.print_lab(pixels.reshape(-1, pixels.shape[-1]) / 65535.0).reshape(lab.shape).astype(np.float32)
            )
            windows = MasterWindows(lab)
            mine = find_beyond(lab, fast)
            truth = exact.look_up(lab)
            out = truth[..., 0] > LIMIT
            kind = causes(lab[out].reshape(-1, 3), truth[..., 1:][out].reshape(-1, 3))[0]
            shares = [float(np.count_nonzero(kind == c) / out.size * 100) for c in range(3)]
            areas = [find_areas(lab, b, f, LIMIT, windows.against(p))[2] > 0 for b, f, p in
                     ((mine, fast, printed), (find_beyond(lab, exact), exact, direct))]  # fmt: skip
            union = max(int(np.count_nonzero(areas[0] | areas[1])), 1)
            row = (
                abs(mine.share - out.mean() * 100), max(abs(a - b) for a, b in zip(mine.by_cause, shares, strict=True)),
                np.count_nonzero(areas[0] ^ areas[1]) / areas[0].size * 100, float(delta_e_2000(printed, direct).mean()),
            )  # fmt: skip
            for key, value in zip(gaps, row, strict=True):
                gaps[key].append(value)
            print(
                f"  {paper_model(paper).profile.description[:26]:26s} {name:14s} share {mine.share:5.2f} exact {out.mean() * 100:5.2f}, "
                f"causes within {row[1]:.2f}, areas differ on {row[2]:.2f} % (of {union / out.size * 100:.1f} %), print ΔE₀₀ {row[3]:.2f}"
            )
    print(
        f"accuracy: worst gap of a share {max(gaps['share']):.2f} points, of a cause {max(gaps['cause']):.2f} points, "
        f"of the areas' outline {max(gaps['areas']):.2f} % of the picture; P by table mean ΔE₀₀ {np.mean(gaps['print']):.3f}"
    )


def lines(quick: bool = False) -> None:
    """Distance of the contour at the limit from the exact road's, in screen pixels at fit zoom (490 × 326)."""
    worst, p99 = [], []
    for file in _PAPERS[: 1 if quick else None]:
        paper = open_profile(demo_folder() / "profiles" / file)
        for name, pixels, profile in pictures(20_000 if quick else 490 * 326, quick):
            if pixels.shape[-1] != 3:
                continue
            h, w = pixels.shape[:2]
            info = PictureInfo(name, w, h, 16, "RGB", profile.description, False, (), 300.0)
            rendition = Rendition(destination=Destination(paper.digest))
            opened = OpenRendition(rendition, OpenPicture(Picture(pixels, profile, info)), paper)
            fast = maps.beyond_map(opened, maps.Patch((0, 0, w, h), w, h))
            lab = master_space(profile).to_lab(pixels)
            soft = np.stack([ndimage.gaussian_filter(lab[..., c], 1.0) for c in range(3)], axis=-1)
            exact = isolines(smooth_field(ExactField(paper).look_up(soft)[..., 0]), maps.LEVELS["beyond"], crumb=0)
            there, here = _points(exact[0][1]), _points(fast.lines[0][1])
            if not len(there) or not len(here):
                continue
            gap = _distances(here, there)
            worst.append(gap.max())
            p99.append(float(np.percentile(gap, 99)))
            print(f"  {name:14s} {len(here):6d} points, 99 % within {p99[-1]:.2f} px, worst {worst[-1]:.2f} px")
    print(
        f"lines: 99 % of every line within {max(p99):.2f} screen pixels of the exact road (wanted 1), worst point {max(worst):.2f}"
    )


def _points(found: tuple[np.ndarray, ...]) -> np.ndarray:
    return np.concatenate(found) if found else np.empty((0, 2))


def _distances(one: np.ndarray, two: np.ndarray) -> np.ndarray:
    from scipy.spatial import cKDTree

    return np.asarray(cKDTree(two).query(one)[0])
