"""Timings as ratios, measured in one run; not part of the checks.

python tools/benchmark.py [--fast] [tune] [judge] [start] …

--fast  small pictures and few moves: whether a tool still runs; its times say nothing

tune    a rung, a pulled colour, and a rung while a place is tuned, moved until both panes are repainted, at 1280 × 800 and
        3840 × 2160, against the time the general imaging library takes to build and apply an 8-bit proof transform to
        the same visible pixels; 24 megapixels rendered with every control
judge   the judge command on 24 megapixels at 16 bit, against that library's 8-bit proof transform over the
        same pixels; its share against the exact road on a sample; its memory
start   the demo window, warm, until it is on the screen
"""

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
if "--fast" not in sys.argv:  # what is made at first use, and kept tables, are not to be found
    os.environ["XDG_DATA_HOME"] = os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp(prefix="rehearsal-bench-")

import numpy as np
from PIL import Image, ImageCms

from rehearsal.core.icc import open_profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.demo.make import demo_folder
from rehearsal.demo.pictures import demo_picture

PROFILES = demo_folder() / "profiles"
PAPER, SCREEN = PROFILES / "SK24_WhiteDune_Hi.icc", PROFILES / "desk-screen-wide.icc"


def library_proof(pixels: np.ndarray, source: bytes) -> float:
    """Seconds the general imaging library takes to build and apply an 8-bit proof transform."""
    import io

    image = Image.fromarray((pixels >> 8).astype(np.uint8))
    begin = time.perf_counter()
    transform = ImageCms.buildProofTransform(
        ImageCms.ImageCmsProfile(io.BytesIO(source)), str(SCREEN), str(PAPER), "RGB", "RGB",
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC, proofRenderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
        flags=ImageCms.Flags.SOFTPROOFING | ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )  # fmt: skip
    ImageCms.applyTransform(image, transform)
    return time.perf_counter() - begin


def judge() -> None:
    """Judge 24 megapixels in a process of its own."""
    picture = read_picture(demo_picture("cloths.tif"))
    big = np.tile(picture.pixels, (2, 2, 1))
    path = Path(tempfile.mkdtemp(prefix="rehearsal-bench-")) / "big.tif"
    write_picture(big, picture.profile, 300, path)
    command = [sys.executable, "-m", "rehearsal.main", "judge", str(path), "--paper", str(PAPER), "--json"]
    subprocess.run(command, capture_output=True, check=True)  # the paper's tables are kept from here on
    seconds, others = [], []
    for _ in range(5):  # turn and turn about, since a shared machine changes its pace
        others.append(library_proof(big, picture.profile.data))
        begin = time.perf_counter()
        done = subprocess.run(command, capture_output=True, text=True, check=True)
        seconds.append(time.perf_counter() - begin)
    out, memory = done.stdout, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    found = json.loads(out)["beyond_paper"]
    space, field = master_space(picture.profile), delta_lattice(open_profile(PAPER))
    sample = np.random.default_rng(1).choice(picture.pixels.shape[0] * picture.pixels.shape[1], 150_000, replace=False)
    exact = float((field.exact(space.to_lab(picture.pixels.reshape(-1, 3)[sample])) > 1.5).mean() * 100)
    mine, other = statistics.median(seconds), statistics.median(others)
    print(
        f"judge: {mine:.2f} s with the start of the program; library {other:.2f} s; ratio {mine / other:.2f} (wanted 2.2); "
        f"full share {found['share_full']:.2f} %, exact {exact:.2f} % on a sample; memory {memory:.0f} MB (wanted 900)"
    )


def start() -> None:
    """Start the demo window twice; the second, warm start counts."""
    code = (
        "import time; b=time.perf_counter()\n"
        "import sys; sys.argv=['rehearsal','--demo']\n"
        "from PyQt6.QtWidgets import QApplication\n"
        "from rehearsal.desk import theme\nfrom rehearsal.desk.start import make_window\n"
        "from rehearsal.demo.make import make_demo\nfrom rehearsal.workbook.home import data_home\n"
        "app=QApplication([]); app.setStyle('Fusion'); theme.load_fonts()\n"
        "w=make_window(make_demo(data_home()/'demo.sqlite'),[]); w.show(); app.processEvents()\n"
        "a=time.perf_counter()-b\n"
        "while w.session.roads.painter is None: app.processEvents(); time.sleep(.005)\n"
        "c=time.perf_counter()-b\n"
        "while w.session.judging.judgement is None: app.processEvents(); time.sleep(.005)\n"
        "print(a, c, time.perf_counter()-b)\n"
        "while w.session.jobs.running: app.processEvents(); time.sleep(.005)\n"
        "w.close()"
    )
    for _ in range(2):
        out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    shown, proof, judged = (float(v) for v in out.split())
    print(
        f"start: window on the screen after {shown:.2f} s (wanted 1.2), proof after {proof:.2f} s, judged after {judged:.2f} s (wanted 3.5)"
    )


def main() -> None:
    """Run what was asked for, or all."""
    import bench_accuracy
    import bench_desk
    import bench_sheet
    import bench_tune

    fast, asked = "--fast" in sys.argv[1:], [name for name in sys.argv[1:] if name != "--fast"]
    all_of_them = {
        "judge": judge, "start": start, "opening": lambda: bench_desk.opening(library_proof),
        "paper": lambda: bench_desk.paper(library_proof),
        "intent": lambda: bench_desk.intent(library_proof), "scout": lambda: bench_desk.scout(library_proof),
        "tune": lambda: bench_tune.tune(library_proof, fast), "page": lambda: bench_sheet.pages(fast),
        "accuracy": lambda: bench_accuracy.figures(fast), "lines": lambda: bench_accuracy.lines(fast),
    }  # fmt: skip
    for name in asked or all_of_them:
        all_of_them[name]()


if __name__ == "__main__":
    main()
