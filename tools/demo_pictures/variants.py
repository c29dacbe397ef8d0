"""Scenes that are other views or other clays of the scenes beside this file.

python variants.py earthenware|salt_banks|cloths_close OUTPUT_FOLDER [options of common.py]
writes the changed script next to this one, and runs it.
"""

import pathlib
import subprocess
import sys

HERE = pathlib.Path(__file__).parent
_JUG = "('jug', -.275, .175"
VARIANTS = {
    "salt_banks": ("salt_pans", {"S.camera((.15, -3.0, 1.75), (.0, 8.0, 1.02), 52,": "S.camera((-1.6, -2.2, 1.15), (-1.2, 7.0, 0.80), 42,"}),
    "cloths_close": ("cloths", {"S.camera((-.55,-6.3,1.38),(-.06,0,1.24),39.5,": "S.camera((1.5,-3.9,1.30),(.55,0,1.18),36,"}),
    "earthenware": ("stoneware", {
        "'a3a2a0'), lin('bbbab7')": "'9a7c66'), lin('b79a82')", "'66676a'), lin('8b8a88')": "'5d4233'), lin('84614a')",
        "lin('c4c3c0')": "lin('a98a6c')", "'a7a299'), lin('d9d5cd')": "'a8764f'), lin('d2a379')",
        "'6b6a68', '8d8c89'": "'8a4a30', 'b56a48'", "'cfcfcd', 'e6e6e3'": "'e0b294', 'f2d0b6'",
        "'dddddb', 'eeeeec'": "'f0cdb8', 'f7dccb'", "'3c3c3d', '565657'": "'43271b', '6a4130'",
        "'a9a8a5', 'c3c2be'": "'c08a5f', 'd8a67c'", "'777675', '8e8d8b'": "'c27a52', 'd6916a'",
        "'bfbebb', 'd2d1ce'": "'edc3a6', 'f5d6c0'", "'4d4d4e', '626263'": "'3a221a', '55352a'",
        "'9b9a98', 'b1b0ad'": "'a9633f', 'c58058'", "rgb('f0f0ef')": "rgb('d99a3c')", "Scene(41)": "Scene(57)",
        "S.camera((.06, -1.42, .56), (-.03, .0, .075), 37,": "S.camera((-.16, -1.50, .60), (-.075, .0, .115), 27,",
        "pot('bowl', .115, .055": "pot('bowl', .075, .075", "pot('tall', .345, .245": "pot('tall', .165, .33",
        "pot('dish', -.42, -.185": "pot('dish', -.27, -.16", "[-.42 + rr": "[-.27 + rr", "-.185 + rr * np.sin": "-.16 + rr * np.sin",
        "[rng.normal(-.31, .05), rng.normal(-.27, .035)": "[rng.normal(-.21, .04), rng.normal(-.22, .03)",
        _JUG: "('jug', -.20, .20",
    }),
}


def main() -> None:
    """Write and run one variant."""
    name = sys.argv[1]
    base, changes = VARIANTS[name]
    text = (HERE / f"{base}.py").read_text()
    for old, new in {**changes, f"run('{base}'": f"run('{name}'"}.items():
        assert old in text, old
        text = text.replace(old, new)
    script = HERE / f"{name}.made.py"
    script.write_text(text)
    subprocess.run([sys.executable, str(script), *sys.argv[2:]], check=True)


if __name__ == "__main__":
    main()
