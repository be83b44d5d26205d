#!/usr/bin/env python3
"""The lint must say no where it should: each case breaks one rule in a copy of the sources."""
import pathlib
import shutil
import subprocess
import sys
import tempfile

ROOT = pathlib.Path(__file__).resolve().parent.parent.parent
CASES = [
    ("clean", None, "", 0),
    ("core includes upwards", "src/core/step/file.cpp", '#include "core/ifc/model.h"\n', 1),
    ("core includes what it does not link", "src/core/bcf/file.cpp", '#include "core/changes/comparison.h"\n', 1),
    ("core reaches for Qt", "src/core/base/text.cpp", "#include <QString>\n", 1),
    ("core reaches for a screen", "src/core/view/camera.cpp", '#include "shell/session.h"\n', 1),
    ("a number by the machine's language", "src/core/base/text.cpp", "double x = std::strtod(p, nullptr);\n", 1),
    ("a stream of numbers", "src/cli/main.cpp", "std::ostringstream out;\n", 1),
    ("the window computes", "src/app/shell/stage.cpp", "#include <CGAL/Surface_mesh.h>\n", 1),
]

failed = 0
for name, file, line, wanted in CASES:
    with tempfile.TemporaryDirectory() as scratch:
        copy = pathlib.Path(scratch)
        shutil.copytree(ROOT / "src", copy / "src")
        if file:
            path = copy / file
            path.write_text(line + path.read_text())
        result = subprocess.run([sys.executable, ROOT / "tools/lint.py", copy], capture_output=True, text=True)
        if result.returncode != wanted:
            failed += 1
            print(f"FAIL {name}: {result.stdout}")
        else:
            print(f"PASS {name}")
print(f"{len(CASES) - failed} passed, {failed} failed")
sys.exit(1 if failed else 0)
