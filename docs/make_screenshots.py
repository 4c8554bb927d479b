"""Makes the pictures in docs/screenshots from the demo data: run `make screenshots`.

Figures are the demo's own (speed.png is made by benchmarks/speed.py); what the terminal shows is drawn with Rich onto an SVG and rendered by headless Chromium, where that is
installed (Debian's package chromium); elsewhere the terminal pictures are left as they are.
"""

import io
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from rich.console import Console
from rich.terminal_theme import DEFAULT_TERMINAL_THEME
from rich.text import Text

from sleetfield.text import WIDTH

SHOTS = Path(__file__).parent / "screenshots"
PROGRAM = Path(sys.executable).parent / "sleetfield"
GAS = "0.70 methane + 0.20 propane + 0.10 n-heptane"
LEAN = "0.90 methane + 0.08 propane + 0.02 n-heptane"
KIJ = "0.1 nitrogen + 0.05 carbon dioxide + 0.05 hydrogen sulfide + 0.5 methane + 0.1 ethane + 0.1 propane + 0.05 n-butane + rest n-octane"
BROTH = "0.2 acetone + 0.3 1-butanol + 0.5 water"
TERMINAL: dict[str, list[list[str]]] = {
    "flash": [
        ["flash", GAS, "--eos", "PR", "--T", "-20degC", "--P", "20bar", "--flow", "120 kmol/h"],
        ["dew", LEAN, "--T", "20degC"],
    ],
    "tables": [
        ["dew", LEAN, "--eos", "SRK", "--P", "10bar to 60bar in 6"],
        ["table", LEAN, "--T", "-40degC to 0degC in 5", "--P", "20bar, 40bar", "--property", "vapor_fraction", "--property", "H"],
    ],
    "components": [["components", "find", "butanol"], ["components", "show", "acetone"]],
    "check": [["check", BROTH, "--liquid", "NRTL"]],
    "predictions": [
        ["azeotropes", "acetone + n-hexane + 2-propanol", "--liquid", "UNIFAC", "--P", "1atm"],
        ["bubble", "0.3 n-heptane + 0.3 1-propanol + rest 2-pentanone", "--liquid", "NRTL", "--missing", "UNIFAC", "--P", "1atm"],
        [
            "dilution",
            "acetone + 1-butanol + ethanol + water",
            "--solvent",
            "water",
            "--against",
            "1-butanol",
            "--mutual",
            "--liquid",
            "UNIFAC",
            "--T",
            "25degC, 60degC",
        ],
    ],
    "model": [["system", BROTH, "--liquid", "NRTL", "--vapor", "virial", "--out", "broth.toml"]],
}
"""Commands whose answers are shown together, as a terminal would."""

DRAWN = {
    "interactions": ["interactions", KIJ, "--eos", "PR"],
    "residue": ["boiling-map", "0.4 acetone + 0.3 chloroform + 0.3 methanol", "--liquid", "Wilson"],
    "points": ["bubble", "0.4 propane + 0.3 n-butane + rest n-pentane", "--T", "0degC to 100degC in 11", "--both"],
    "dropouts": [
        "table",
        f"lean: {LEAN}; rich: 0.85 methane + 0.08 propane + rest n-heptane; richer: 0.80 methane + 0.10 propane + rest n-heptane",
        *("--T", "60degC", "--P", "1bar to 260bar in 105", "--property", "vapor_fraction"),
    ],
    "saturation": ["saturation-curve", "propane", "--eos", "PR"],
    "hydrates": [
        *("hydrate", "0.85 methane + 0.08 propane + 0.03 n-butane + 0.04 water", "--eos", "CPA", "--P", "5bar to 150bar in 15"),
        *("--mark", "line: 8degC, 45bar", "--envelope", "--log"),
    ],
    "valleys": ["freezing-map", "o-xylene + m-xylene + p-xylene", "--liquid", "ideal"],
    "propane_chart": [
        *("chart", "propane", "--eos", "PR", "--zero", "T=0degC, vapor_fraction=0", "--mark", "suction: -19degC, 2.4bar"),
        *("--mark", "discharge: 58degC, 13bar", "--mark", "liquid: 37degC, 13bar"),
    ],
    "plateau": ["melting-diagram", "1-butanol + water", "--liquid", "NRTL"],
}
"""Commands of which the figure is shown."""

SHEET = [
    *(
        "datasheet",
        GAS,
        "--eos",
        "PR",
        "--T",
        "-20degC",
        "--P",
        "20bar",
        "--flow",
        "120 kmol/h",
        "--title",
        "Marlwick Works: knock-out drum",
    ),
]
"""The datasheet that is shown."""

PLAIN = """<svg viewBox="0 0 {width} {height}" xmlns="http://www.w3.org/2000/svg">
<style>
.{unique_id}-matrix {{ font-family: "DejaVu Sans Mono", monospace; font-size: {char_height}px; line-height: {line_height}px; }}
{styles}
</style>
<defs>{lines}</defs>
<rect width="100%" height="100%" fill="#ffffff"/>
<g transform="translate(9, 9)">{backgrounds}<g class="{unique_id}-matrix">{matrix}</g></g>
</svg>
"""
"""Text alone: no window, light."""

FIGURES = {
    "marlwick-demo/results/envelope.png": "envelope.png",
    "marlwick-demo/results/butanol_water.png": "butanol_water.png",
    "residue.png": "residue.png",
    "interactions.png": "interactions.png",
}


JOINED = {
    "regression.png": (
        "marlwick-demo/results/butanol-water_fit_2.png",
        "marlwick-demo/results/butanol-water_fit.png",
        "marlwick-demo/results/benzoic_acid_fit.png",
        "marlwick-demo/results/still_models.png",
    ),
    "pure.png": ("marlwick-demo/results/acetone_vapor_pressure_2.png", "saturation.png"),
    "solids.png": ("hydrates.png", "valleys.png", "marlwick-demo/results/acid_in_ethanol.png", "plateau.png"),
    "dropout.png": (
        "marlwick-demo/results/dropout.png",
        "marlwick-demo/results/drum_against_temperature.png",
        "points.png",
        "dropouts.png",
    ),
    "decanter.png": (
        "marlwick-demo/results/decanter_liquids.png",
        "marlwick-demo/results/caustic_scrubber_2.png",
        "marlwick-demo/results/scrubbed_gas.png",
        "marlwick-demo/results/make-up_water.png",
    ),
    "charts.png": ("marlwick-demo/results/steam_chart.png", "propane_chart.png"),
}
"""Figures that share a picture, two beside each other."""


def join(figures: list[Path], shot: Path) -> None:
    """Put figures into one picture."""
    from PIL import Image

    parts = [Image.open(figure).convert("RGB") for figure in figures]
    parts = [part.resize((800, round(800 * part.height / part.width))) for part in parts]
    height = max(part.height for part in parts)
    whole = Image.new("RGB", (1600, height * ((len(parts) + 1) // 2)), "white")
    for i, part in enumerate(parts):
        whole.paste(part, (800 * (i % 2), height * (i // 2)))
    whole.save(shot)


def photograph(chromium: str, page: Path, height: int, shot: Path, folder: Path) -> None:
    """A picture of a page in a browser."""
    options = ["--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", f"--user-data-dir={folder}/profile"]
    size = f"--window-size=1280,{height}"
    subprocess.run([chromium, *options, size, f"--screenshot={shot}", page.as_uri()], check=True, capture_output=True)


def crop(shot: Path, border: int = 14) -> None:
    """Leave away what is white around a picture."""
    from PIL import Image, ImageChops, ImageOps

    picture = Image.open(shot).convert("RGB")
    box = ImageChops.difference(picture, Image.new("RGB", picture.size, "white")).getbbox()
    ImageOps.expand(picture.crop(box), border, "white").save(shot)


def terminal(chromium: str, commands: list[list[str]], shot: Path, folder: Path) -> None:
    """What commands answer, one after the other, as text on white."""
    console = Console(record=True, width=WIDTH + 2, file=io.StringIO(), highlight=False)
    for arguments in commands:
        quoted = " ".join(f'"{a}"' if " " in a else a for a in arguments)
        console.print(Text(f"$ sleetfield {quoted}\n", style="bold"))
        done = subprocess.run([PROGRAM, *arguments], capture_output=True, text=True, cwd=folder, check=True)
        console.print(Text("\n".join(line.rstrip() for line in done.stdout.splitlines()) + "\n"))
    lines = console.export_text(clear=False).count("\n")
    page = folder / f"{shot.stem}.svg"
    console.save_svg(str(page), theme=DEFAULT_TERMINAL_THEME, code_format=PLAIN)
    photograph(chromium, page, 100 + 26 * lines, shot, folder)
    crop(shot)


def main() -> None:
    """Make them all."""
    SHOTS.mkdir(exist_ok=True)
    chromium = shutil.which("chromium")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        subprocess.run([PROGRAM, "demo", "--folder", "marlwick-demo"], capture_output=True, cwd=folder, check=True)
        for figure, arguments in DRAWN.items():
            subprocess.run([PROGRAM, *arguments, "--out", f"{figure}.png"], capture_output=True, cwd=folder, check=True)
        if chromium is not None:
            for shot, commands in TERMINAL.items():
                terminal(chromium, commands, SHOTS / f"{shot}.png", folder)
            results = folder / "marlwick-demo" / "results"
            photograph(chromium, results / "report.html", 800, SHOTS / "report.png", folder)
            subprocess.run([PROGRAM, *SHEET, "--out", "sheet.html"], capture_output=True, cwd=folder, check=True)
            photograph(chromium, folder / "sheet.html", 1350, SHOTS / "datasheet.png", folder)
        for figure, shot in FIGURES.items():
            shutil.copy(folder / figure, SHOTS / shot)
        for shot, figures in JOINED.items():
            join([folder / figure for figure in figures], SHOTS / shot)


if __name__ == "__main__":
    main()
