"""Builds the program's font from the subsets of an open one (needs fonttools and brotli).

Usage: make_fonts.py FOLDER_WITH_WOFF2. Joins the Latin, extended Latin and Greek subsets of each
weight of Fira Sans Condensed (SIL Open Font License), makes tabular figures the default and drops
ligatures, so that columns of figures line up and text in a PDF stays whole. Being changed, it has a
name of its own.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont

OUT = Path(__file__).parents[1] / "src/zarvik/window/theme/fonts"
FAMILY = "Zarvik Sans"


def tabular(font: TTFont) -> int:
    """Point the characters of figures at their tabular glyphs; returns how many were changed."""
    table = font["GSUB"].table
    mapping: dict[str, str] = {}
    for record in table.FeatureList.FeatureRecord:
        if record.FeatureTag == "tnum":
            for index in record.Feature.LookupListIndex:
                for sub in table.LookupList.Lookup[index].SubTable:
                    mapping.update(getattr(getattr(sub, "ExtSubTable", sub), "mapping", {}))
    count = 0
    for cmap in font["cmap"].tables:
        for code, name in list(cmap.cmap.items()):
            if name in mapping:
                cmap.cmap[code] = mapping[name]
                count += 1
    keep = [r for r in table.FeatureList.FeatureRecord if r.FeatureTag not in ("liga", "dlig", "tnum", "pnum", "lnum", "onum")]
    if len(keep) != len(table.FeatureList.FeatureRecord):
        # Empty the lookups of what is dropped instead of renumbering every script's list.
        for record in table.FeatureList.FeatureRecord:
            if record not in keep:
                record.Feature.LookupListIndex = []
                record.Feature.LookupCount = 0
    return count


def main() -> None:
    """Build the regular and the semibold font."""
    source = Path(sys.argv[1])
    OUT.mkdir(parents=True, exist_ok=True)
    for weight, style in ((400, "Regular"), (600, "SemiBold")):
        parts = []
        folder = Path(tempfile.mkdtemp())
        for subset in ("latin", "latin-ext", "greek"):
            font = TTFont(source / f"fira-sans-condensed-{subset}-{weight}-normal.woff2")
            font.flavor = None
            if subset == "latin":
                print(style, "tabular figures:", tabular(font))
            for tag in ("GSUB", "GDEF") if subset != "latin" else ():
                if tag in font:
                    del font[tag]
            path = folder / f"{subset}.ttf"
            font.save(path)
            parts.append(str(path))
        merged = Merger().merge(parts)
        for record in merged["name"].names:
            text = {
                1: FAMILY if weight == 400 else f"{FAMILY} SemiBold",
                2: "Regular",
                3: f"{FAMILY} {style} 1.0",
                4: f"{FAMILY} {style}",
                6: f"ZarvikSans-{style}",
                16: FAMILY,
                17: style,
            }.get(record.nameID)
            if text:
                record.string = text
        merged.save(OUT / f"ZarvikSans-{style}.ttf")
        print((OUT / f"ZarvikSans-{style}.ttf").stat().st_size)


if __name__ == "__main__":
    main()
