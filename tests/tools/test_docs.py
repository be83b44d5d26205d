#!/usr/bin/env python3
"""Every diagnostic that reading can give is explained in docs/reading-ifc.md, and nothing is that it can not give."""
import pathlib
import re
import sys

ROOT = pathlib.Path(__file__).resolve().parent.parent.parent
CODE = re.compile(r'"((?:step|ifc|geometry|file)\.[a-z-]+)"')
# Not of reading: writing files, and a cache that is made anew without a word.
OTHERS = {"file.unwritable", "ifc.damaged-cache"}

given = set()
for folder in ("base", "step", "ifc", "geometry"):
    for source in (ROOT / "src/core" / folder).glob("*.[hc]*"):
        given |= set(CODE.findall(source.read_text()))
explained = set(re.findall(r"^\| `([a-z]+\.[a-z-]+)`", (ROOT / "docs/reading-ifc.md").read_text(), re.M))
problems = [f"docs/reading-ifc.md does not explain {code}" for code in sorted(given - OTHERS - explained)]
problems += [f"docs/reading-ifc.md explains {code}, which nothing gives" for code in sorted(explained - given)]
print("\n".join(problems))
print(f"{len(given)} codes, {len(problems)} problems")
sys.exit(1 if problems else 0)
