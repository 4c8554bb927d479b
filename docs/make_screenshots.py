"""Makes the pictures in docs/screenshots from the demo data: run `make screenshots`.

Figures are the demo's own; what the terminal shows is drawn with Rich onto an SVG and rendered by headless Chromium, where that is
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

SHOTS = Path(__file__).parent / "screenshots"
PROGRAM = Path(sys.executable).parent / "sleetfield"
GAS = "0.70 methane + 0.20 propane + 0.10 n-heptane"
LEAN = "0.90 methane + 0.08 propane + 0.02 n-heptane"
KIJ = "0.1 nitrogen + 0.05 carbon dioxide + 0.05 hydrogen sulfide + 0.5 methane + 0.1 ethane + 0.1 propane + 0.05 n-butane + rest n-octane"
TERMINAL = {
    "flash": ["flash", GAS, "--eos", "PR", "--T", "-20degC", "--P", "20bar", "--flow", "120 kmol/h"],
    "table": [
        "table",
        LEAN,
        "--T",
        "-40degC to 0degC in 5",
        "--P",
        "20bar, 40bar",
        "--property",
        "vapor_fraction",
        "--property",
        "H",
    ],
    "dew": ["dew", LEAN, "--eos", "SRK", "--P", "10bar to 60bar in 6"],
    "components": ["components", "find", "butanol"],
    "component": ["components", "show", "acetone"],
    "interactions": ["interactions", KIJ, "--eos", "PR", "--out", "interactions.png"],
    "check": ["check", "0.2 acetone + 0.3 1-butanol + 0.5 water", "--liquid", "NRTL"],
    "residue": [
        "boiling-map",
        "0.4 acetone + 0.3 chloroform + 0.3 methanol",
        "--liquid",
        "Wilson",
        "--out",
        "residue.png",
    ],
    "model": ["system", "0.2 acetone + 0.3 1-butanol + 0.5 water", "--liquid", "NRTL", "--vapor", "virial", "--out", "broth.toml"],
    "points": [
        "bubble",
        "0.4 propane + 0.3 n-butane + rest n-pentane",
        "--T",
        "0degC to 100degC in 11",
        "--both",
        "--out",
        "points.png",
    ],
    "dropouts": [
        "table",
        f"lean: {LEAN}; rich: 0.85 methane + 0.08 propane + rest n-heptane; richer: 0.80 methane + 0.10 propane + rest n-heptane",
        "--T",
        "60degC",
        "--P",
        "1bar to 260bar in 105",
        "--property",
        "vapor_fraction",
        "--out",
        "dropouts.png",
    ],
    "saturation": ["saturation-curve", "propane", "--eos", "PR", "--out", "saturation.png"],
}

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

WIDE = ("component", "check", "model")
"""Commands whose tables need more than 118 characters."""

FIGURE_ALONE = ("interactions", "residue", "saturation", "points", "dropouts")
"""Commands of which the figure is shown, not the terminal."""

FIGURES = {
    "marlwick-demo/results/envelope.png": "envelope.png",
    "marlwick-demo/results/dropout.png": "dropout.png",
    "marlwick-demo/results/drum_against_temperature.png": "drum.png",
    "marlwick-demo/results/butanol_water.png": "butanol_water.png",
    "marlwick-demo/results/decanter_liquids.png": "decanter.png",
    "residue.png": "residue.png",
    "marlwick-demo/results/acetone_vapor_pressure_2.png": "fit.png",
    "saturation.png": "saturation.png",
    "interactions.png": "interactions.png",
}


JOINED = {
    "regression.png": (
        "marlwick-demo/results/butanol-water_fit_2.png",
        "marlwick-demo/results/butanol-water_fit.png",
        "marlwick-demo/results/benzoic_acid_fit.png",
        "marlwick-demo/results/still_models.png",
    ),
    "lists.png": ("points.png", "dropouts.png"),
}
"""Figures that share a picture, two beside each other."""


def join(figures: list[Path], shot: Path) -> None:
    """Put figures into one picture."""
    from PIL import Image

    parts = [Image.open(figure).convert("RGB").resize((800, 500)) for figure in figures]
    whole = Image.new("RGB", (1600, 500 * ((len(parts) + 1) // 2)), "white")
    for i, part in enumerate(parts):
        whole.paste(part, (800 * (i % 2), 500 * (i // 2)))
    whole.save(shot)


def photograph(chromium: str, page: Path, height: int, shot: Path, folder: Path) -> None:
    """A picture of a page in a browser."""
    options = ["--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", f"--user-data-dir={folder}/profile"]
    size = f"--window-size=1280,{height}"
    subprocess.run([chromium, *options, size, f"--screenshot={shot}", page.as_uri()], check=True, capture_output=True)


def main() -> None:
    """Make them all."""
    SHOTS.mkdir(exist_ok=True)
    chromium = shutil.which("chromium")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        subprocess.run([PROGRAM, "demo", "--folder", "marlwick-demo"], capture_output=True, cwd=folder, check=True)
        for shot, arguments in TERMINAL.items():
            done = subprocess.run([PROGRAM, *arguments], capture_output=True, text=True, cwd=folder, check=True)
            if chromium is None or shot in FIGURE_ALONE:
                continue
            rules = [len(line.rstrip()) for line in done.stdout.splitlines() if "─" in line]
            console = Console(record=True, width=max([118, *rules]) if shot in WIDE else 118, file=io.StringIO())
            quoted = " ".join(f'"{a}"' if " " in a else a for a in arguments)
            console.print(Text(f"$ sleetfield {quoted}\n", style="bold"))
            console.print(Text("\n".join(line.rstrip() for line in done.stdout.splitlines())))
            lines = 2 + len(done.stdout.splitlines())
            page = folder / f"{shot}.svg"
            console.save_svg(str(page), theme=DEFAULT_TERMINAL_THEME, code_format=PLAIN)
            photograph(chromium, page, 100 + 22 * lines, SHOTS / f"{shot}.png", folder)
        if chromium is not None:
            photograph(chromium, folder / "marlwick-demo" / "results" / "report.html", 800, SHOTS / "report.png", folder)
        for figure, shot in FIGURES.items():
            shutil.copy(folder / figure, SHOTS / shot)
        for shot, figures in JOINED.items():
            join([folder / figure for figure in figures], SHOTS / shot)


if __name__ == "__main__":
    main()
