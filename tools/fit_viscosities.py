"""Fit the viscosities of pure liquids to a handbook's values.

    python tools/fit_viscosities.py

Prints the rows of ``src/sleetfield/data/liquid_viscosity.csv``, and how far each fit is from its values.
"""

from __future__ import annotations

import sys

import numpy as np
from scipy.optimize import least_squares

MEASURED = {
    "water": {0: 1.793, 25: 0.890, 50: 0.547, 75: 0.378},
    "methanol": {-25: 1.258, 0: 0.793, 25: 0.544},
    "ethanol": {-25: 3.262, 0: 1.786, 25: 1.074, 50: 0.694, 75: 0.476},
    "1-propanol": {-25: 8.645, 0: 3.815, 25: 1.945, 50: 1.107, 75: 0.685},
    "2-propanol": {0: 4.619, 25: 2.038, 50: 1.028, 75: 0.576},
    "1-butanol": {-25: 12.19, 0: 5.185, 25: 2.544, 50: 1.394, 75: 0.833, 100: 0.533},
    "1-pentanol": {0: 8.512, 25: 3.619, 50: 1.820, 75: 1.035, 100: 0.646},
    "1-hexanol": {25: 4.578, 50: 2.271, 75: 1.270, 100: 0.781},
    "1-octanol": {25: 7.288, 50: 3.232, 75: 1.681, 100: 0.991},
    "ethylene glycol": {25: 16.1, 50: 6.554, 75: 3.340, 100: 1.975},
    "glycerol": {25: 934.0, 50: 152.0, 75: 39.8, 100: 14.8},
    "phenol": {50: 3.437, 75: 1.784, 100: 1.099},
    "acetone": {-25: 0.540, 0: 0.395, 25: 0.306, 50: 0.247},
    "methyl ethyl ketone": {-25: 0.720, 0: 0.533, 25: 0.405, 50: 0.315, 75: 0.249},
    "cyclohexanone": {25: 2.017, 50: 1.321, 75: 0.919, 100: 0.671},
    "benzene": {25: 0.604, 50: 0.436, 75: 0.335},
    "toluene": {-25: 1.165, 0: 0.778, 25: 0.560, 50: 0.424, 75: 0.333, 100: 0.270},
    "ethylbenzene": {0: 0.872, 25: 0.631, 50: 0.482, 75: 0.380, 100: 0.304},
    "o-xylene": {0: 1.084, 25: 0.760, 50: 0.561, 75: 0.432, 100: 0.345},
    "m-xylene": {0: 0.795, 25: 0.581, 50: 0.445, 75: 0.353, 100: 0.289},
    "p-xylene": {25: 0.603, 50: 0.457, 75: 0.359, 100: 0.290},
    "cumene": {0: 1.075, 25: 0.737, 50: 0.547},
    "styrene": {0: 1.050, 25: 0.695, 50: 0.507, 75: 0.390, 100: 0.310},
    "n-pentane": {-25: 0.351, 0: 0.274, 25: 0.224},
    "n-hexane": {0: 0.405, 25: 0.300, 50: 0.240},
    "n-heptane": {-25: 0.757, 0: 0.523, 25: 0.387, 50: 0.301, 75: 0.243},
    "n-octane": {0: 0.700, 25: 0.508, 50: 0.385, 75: 0.302, 100: 0.243},
    "n-nonane": {0: 0.964, 25: 0.665, 50: 0.488, 75: 0.375, 100: 0.300},
    "n-decane": {0: 1.277, 25: 0.838, 50: 0.598, 75: 0.453, 100: 0.359},
    "n-dodecane": {0: 2.277, 25: 1.383, 50: 0.930, 75: 0.673, 100: 0.514},
    "n-hexadecane": {25: 3.032, 50: 1.879, 75: 1.260, 100: 0.899},
    "cyclopentane": {0: 0.555, 25: 0.413, 50: 0.321},
    "cyclohexane": {25: 0.894, 50: 0.615, 75: 0.447},
    "methylcyclohexane": {0: 0.991, 25: 0.679, 50: 0.501, 75: 0.390, 100: 0.316},
    "dichloromethane": {-25: 0.727, 0: 0.533, 25: 0.413},
    "chloroform": {-25: 0.988, 0: 0.706, 25: 0.537, 50: 0.427},
    "carbon tetrachloride": {0: 1.321, 25: 0.908, 50: 0.656, 75: 0.494},
    "1,2-dichloroethane": {0: 1.125, 25: 0.779, 50: 0.576, 75: 0.447},
    "chlorobenzene": {-25: 1.703, 0: 1.058, 25: 0.753, 50: 0.575, 75: 0.456, 100: 0.369},
    "tetrahydrofuran": {-25: 0.849, 0: 0.605, 25: 0.456, 50: 0.359},
    "1,4-dioxane": {25: 1.177, 50: 0.787, 75: 0.569},
    "formic acid": {25: 1.607, 50: 1.030, 75: 0.724, 100: 0.545},
    "acetic acid": {25: 1.056, 50: 0.786, 75: 0.599, 100: 0.464},
    "propionic acid": {0: 1.499, 25: 1.030, 50: 0.749, 75: 0.569, 100: 0.449},
    "methyl acetate": {0: 0.477, 25: 0.364, 50: 0.284},
    "ethyl acetate": {0: 0.578, 25: 0.423, 50: 0.325, 75: 0.259},
    "n-butyl acetate": {0: 1.002, 25: 0.685, 50: 0.500, 75: 0.383, 100: 0.305},
    "aniline": {25: 3.847, 50: 2.029, 75: 1.247, 100: 0.850},
    "nitrobenzene": {0: 3.036, 25: 1.863, 50: 1.262, 75: 0.918, 100: 0.704},
    "pyridine": {0: 1.361, 25: 0.879, 50: 0.637, 75: 0.497, 100: 0.409},
    "isopentane": {0: 0.277, 25: 0.214},
    "methylcyclopentane": {0: 0.653, 25: 0.479, 50: 0.364},
    "cyclohexene": {0: 0.882, 25: 0.625, 50: 0.467, 75: 0.364},
    "1-hexene": {0: 0.326, 25: 0.252, 50: 0.202},
    "bromobenzene": {0: 1.560, 25: 1.074, 50: 0.798, 75: 0.627, 100: 0.512},
    "fluorobenzene": {0: 0.749, 25: 0.550, 50: 0.423, 75: 0.338},
    "iodobenzene": {0: 2.354, 25: 1.554, 50: 1.117, 75: 0.854, 100: 0.683},
    "n-propyl acetate": {0: 0.768, 25: 0.544, 50: 0.406, 75: 0.316, 100: 0.255},
    "ethyl formate": {0: 0.506, 25: 0.380, 50: 0.300},
    "methyl formate": {0: 0.424, 25: 0.325},
    "n-butyric acid": {0: 2.215, 25: 1.426, 50: 0.982, 75: 0.714, 100: 0.542},
    "acetic anhydride": {0: 1.241, 25: 0.843, 50: 0.614, 75: 0.472, 100: 0.377},
    "2-pentanone": {0: 0.641, 25: 0.470, 50: 0.362, 75: 0.289, 100: 0.238},
    "3-pentanone": {0: 0.592, 25: 0.444, 50: 0.345, 75: 0.276, 100: 0.227},
    "diethyl ether": {0: 0.283, 25: 0.224},
    "anisole": {25: 1.056, 50: 0.747, 75: 0.554, 100: 0.427},
    "trichloroethylene": {0: 0.703, 25: 0.545, 50: 0.444, 75: 0.376},
    "1,1,1-trichloroethane": {-25: 1.847, 0: 1.161, 25: 0.793, 50: 0.578, 75: 0.428},
    "n-butylamine": {0: 0.830, 25: 0.574, 50: 0.409, 75: 0.298},
    "triethylamine": {0: 0.455, 25: 0.347, 50: 0.273, 75: 0.221},
    "dimethyl sulfide": {0: 0.356, 25: 0.284},
    "carbon disulfide": {0: 0.429, 25: 0.352},
    "1-heptanol": {25: 5.810, 50: 2.603, 75: 1.389, 100: 0.849},
    "1-decanol": {25: 10.900, 50: 4.590},
    "2-butanol": {25: 3.096, 50: 1.332, 75: 0.698, 100: 0.419},
    "isobutanol": {25: 3.333, 50: 1.634, 75: 0.885, 100: 0.529},
    "isoamyl alcohol": {25: 3.692, 50: 1.842, 75: 1.031, 100: 0.631},
    "allyl alcohol": {25: 1.218, 50: 0.759, 75: 0.505},
    "propionaldehyde": {0: 0.414, 25: 0.321},
    "methyl propionate": {0: 0.581, 25: 0.431, 50: 0.333, 75: 0.266},
    "ethyl propionate": {0: 0.691, 25: 0.501, 50: 0.380, 75: 0.299, 100: 0.242},
    "isobutyl acetate": {25: 0.676, 50: 0.493, 75: 0.370, 100: 0.286},
    "n-propylbenzene": {25: 0.800, 50: 0.590},
    "n-undecane": {0: 1.707, 25: 1.098, 50: 0.763, 75: 0.562, 100: 0.433},
    "n-tetradecane": {25: 2.128, 50: 1.376, 75: 0.953, 100: 0.697},
    "benzyl alcohol": {25: 5.474, 50: 2.760, 75: 1.618, 100: 1.055},
    "acetophenone": {25: 1.681, 50: 1.172, 75: 0.865, 100: 0.669},
    "benzonitrile": {25: 1.267, 50: 0.883, 75: 0.662, 100: 0.524},
    "n-propyl chloride": {0: 0.436, 25: 0.334},
    "n-butyl chloride": {0: 0.556, 25: 0.422, 50: 0.329, 75: 0.261},
    "1,2-dibromoethane": {25: 1.595, 50: 1.116, 75: 0.837, 100: 0.661},
    "1,1-dichloroethane": {0: 0.625, 25: 0.464, 50: 0.362},
    "o-dichlorobenzene": {0: 1.958, 25: 1.324, 50: 0.962, 75: 0.739, 100: 0.593},
    "m-dichlorobenzene": {0: 1.492, 25: 1.044, 50: 0.787, 75: 0.628, 100: 0.525},
    "furan": {0: 0.475, 25: 0.361},
}
"""mPa s at degrees Celsius: CRC Handbook of Chemistry and Physics, 84th ed. (2003), Section 6, viscosity of liquids."""


def fitted(points: dict[int, float]) -> tuple[np.ndarray, np.ndarray]:
    """Vogel's coefficients, and by which shares the fit is off."""
    T, ln = np.array(list(points)) + 273.15, np.log(1e-3 * np.array(list(points.values())))

    def off(c: np.ndarray) -> np.ndarray:
        return c[0] + c[1] / (T + c[2]) - ln

    # a third coefficient only where there are points enough to see it
    limit = 200.0 if len(points) > 3 else 1e-9
    found = least_squares(
        off,
        [-11.0, 900.0, 0.0],
        bounds=([-30.0, 10.0, -limit], [0.0, 5000.0, 1e-9 if limit < 1.0 else 60.0]),
        x_scale=[1.0, 100.0, 10.0],
    )
    return found.x, np.expm1(off(found.x))


def main() -> None:
    """Print the rows."""
    print("name,equation,c1,c2,c3,T_min,T_max,source")
    for name, points in MEASURED.items():
        c, off = fitted(points)
        c = [round(float(v), digits) + 0.0 for v, digits in zip(c, (5, 3, 3), strict=True)]
        quoted = f'"{name}"' if "," in name else name
        print(f"{quoted},vogel,{c[0]:g},{c[1]:g},{c[2]:g},{min(points) + 273.15:g},{max(points) + 273.15:g},crc-viscosity")
        print(f"{name:24} {100.0 * np.abs(off).max():.2f} %", file=sys.stderr)


if __name__ == "__main__":
    main()
