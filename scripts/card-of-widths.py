#!/usr/bin/env python3
"""Makes cards of a table of widths that a package for badges measured in browsers.

    scripts/card-of-widths.py PACKAGE-FOLDER CARDS-FOLDER

The package (npm `anafanafo`, MIT) has the widths of Verdana's characters in px, rounded to
hundredths, at 10 and 11 px, bold ones at 10 px. Characters that the font lacks are there in
the widths of other fonts; so only those of Windows' code pages for Latin, Greek and Cyrillic
text are taken, for which its fonts are made, and of these where both sizes agree. Kerning,
heights, lines and features are not known, and the cards state none.
"""
import hashlib
import json
import pathlib
import sys

UNITS = 2048
PAGES = ["cp1250", "cp1251", "cp1252", "cp1253", "cp1254", "cp1257"]
FACES = [("Verdana-widths", 400, ["verdana-10px-normal", "verdana-11px-normal"]),
         ("Verdana-Bold-widths", 700, ["verdana-10px-bold"])]


def characters():
    found = set()
    for page in PAGES:
        for byte in range(256):
            character = bytes([byte]).decode(page, "ignore")
            # No controls, and no soft hyphen, which is not drawn.
            if character.isprintable() and character or character == "\u00a0":
                found.add(ord(character))
    return sorted(found)


def table(path):
    return {point: width for first, last, width in json.loads(path.read_text())
            for point in range(first, last + 1)}


def units(point, tables):
    """The width in font units that all tables allow, in the middle of what they do."""
    least = max((width[point] - 0.005) / size for size, width in tables) * UNITS
    most = min((width[point] + 0.005) / size for size, width in tables) * UNITS
    return round((least + most) / 2) if least <= most else None


def ranges(points):
    runs = []
    for point in points:
        if runs and runs[-1][1] == point - 1:
            runs[-1][1] = point
        else:
            runs.append([point, point])
    return ", ".join(f"U+{a:X}" if a == b else f"U+{a:X}-{b:X}" for a, b in runs)


def card(name, weight, tables, file, version):
    widths = {point: units(point, tables) for point in characters()
              if all(point in width for _, width in tables)}
    widths = {point: width for point, width in widths.items() if width is not None}
    return {
        "schema": "tidy-lattice/card/1",
        "names": {"family": "Verdana", "style": "Bold" if weight == 700 else "Regular",
                  "full": name.removesuffix("-widths").replace("-", " "),
                  "postscript": name.removesuffix("-widths")},
        "source": {"file": f"{file.name}", "sha256": hashlib.sha256(file.read_bytes()).hexdigest(),
                   "package": "npm anafanafo", "package_version": version},
        "only_widths": True,
        "class": "sans", "weight": weight, "width": 100.0, "slope": "normal",
        "units_per_em": UNITS,
        "line": {"ascent": 0.0, "descent": 0.0, "line_gap": 0.0, "source": "not-known"},
        "colour": False,
        "characters": ranges(widths),
        "advances": " ".join(str(width) for width in widths.values()),
    }


package, cards = map(pathlib.Path, sys.argv[1:])
version = json.loads((package / "package.json").read_text())["version"]
for name, weight, files in FACES:
    tables = [(int(file.split("-")[1].removesuffix("px")), table(package / "data" / f"{file}.json"))
              for file in files]
    made = card(name, weight, tables, package / "data" / f"{files[0]}.json", version)
    lines = (f" {json.dumps(key)}: {json.dumps(value, separators=(',', ':'))}"
             for key, value in made.items())
    (cards / f"{name}.card.json").write_text("{\n" + ",\n".join(lines) + "\n}\n")
