"""Spectra to colour: 380 to 730 nm in 10 nm steps, D50, CIE 1931 2° observer (ISO 13655).

Colour-matching functions: CIE 018:2019 table (the 1931 2° observer), rounded to 6 decimals.
Illuminant D50: CIE 15:2018 table, relative power, 100 at 560 nm.
Tristimulus values are plain sums over the bands (ASTM E308 calls for weights; with 10 nm bands of
smooth reflectances the two differ by less than instrument noise).
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc.standard import WHITE_D50

#: Band centres in nm.
WAVELENGTHS = np.arange(380, 731, 10)
X_BAR = np.array(
    [
        0.001368,
        0.004243,
        0.014310,
        0.043510,
        0.134380,
        0.283900,
        0.348280,
        0.336200,
        0.290800,
        0.195360,
        0.095640,
        0.032010,
        0.004900,
        0.009300,
        0.063270,
        0.165500,
        0.290400,
        0.433450,
        0.594500,
        0.762100,
        0.916300,
        1.026300,
        1.062200,
        1.002600,
        0.854450,
        0.642400,
        0.447900,
        0.283500,
        0.164900,
        0.087400,
        0.046770,
        0.022700,
        0.011359,
        0.005790,
        0.002899,
        0.001440,
    ]
)
Y_BAR = np.array(
    [
        0.000039,
        0.000120,
        0.000396,
        0.001210,
        0.004000,
        0.011600,
        0.023000,
        0.038000,
        0.060000,
        0.090980,
        0.139020,
        0.208020,
        0.323000,
        0.503000,
        0.710000,
        0.862000,
        0.954000,
        0.994950,
        0.995000,
        0.952000,
        0.870000,
        0.757000,
        0.631000,
        0.503000,
        0.381000,
        0.265000,
        0.175000,
        0.107000,
        0.061000,
        0.032000,
        0.017000,
        0.008210,
        0.004102,
        0.002091,
        0.001047,
        0.000520,
    ]
)
Z_BAR = np.array(
    [
        0.006450,
        0.020050,
        0.067850,
        0.207400,
        0.645600,
        1.385600,
        1.747060,
        1.772110,
        1.669200,
        1.287640,
        0.812950,
        0.465180,
        0.272000,
        0.158200,
        0.078250,
        0.042160,
        0.020300,
        0.008750,
        0.003900,
        0.002100,
        0.001650,
        0.001100,
        0.000800,
        0.000340,
        0.000190,
        0.000050,
        0.000020,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
        0.000000,
    ]
)
D50_POWER = np.array(
    [
        24.49,
        29.87,
        49.31,
        56.51,
        60.03,
        57.82,
        74.83,
        87.25,
        90.61,
        91.37,
        95.11,
        91.96,
        95.72,
        96.61,
        97.13,
        102.10,
        100.75,
        102.32,
        100.00,
        97.73,
        98.92,
        93.50,
        97.69,
        99.27,
        99.04,
        95.72,
        98.86,
        95.67,
        98.19,
        103.00,
        99.13,
        87.38,
        91.60,
        92.89,
        76.85,
        86.51,
    ]
)
_WEIGHTS = np.stack([X_BAR, Y_BAR, Z_BAR], axis=1) * D50_POWER[:, None]
_WEIGHTS /= (Y_BAR * D50_POWER).sum()
#: A perfect diffuser sums to the D50 of the connection space; the small gap of the 10 nm sums is spread evenly.
_WEIGHTS *= WHITE_D50 / _WEIGHTS.sum(axis=0)


def to_xyz(reflectance: np.ndarray) -> np.ndarray:
    """Reflectance factors (..., 36), 0 to about 1.1, to XYZ (..., 3) under D50, perfect diffuser Y = 1."""
    return np.asarray(reflectance) @ _WEIGHTS
