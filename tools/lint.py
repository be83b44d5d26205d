#!/usr/bin/env python3
"""Checks who includes whom: core folders only downwards as their targets link, no Qt in core, no computing
libraries in the window; that no number in core follows the machine's language; and that a project's files are reached
beneath its folder's handle.

usage: lint.py [ROOT]
"""
import pathlib
import re
import sys

INCLUDE = re.compile(r'^\s*#\s*include\s*[<"]([^>"]+)[>"]', re.M)
LINKS = re.compile(r"target_link_libraries\(\s*wendrix_(\w+)([^)]*)\)")
QT = re.compile(r"^(Q[A-Z]\w*|Qt\w+/.*)$")
# What reads or writes numbers as the machine's language has them; core/base/number.h and fmt do not.
BY_LOCALE = re.compile(
    r"\b(strtod|strtof|strtold|atof|stod|stof|as_double|as_float|setlocale|imbue)\s*\(|\b[io]?stringstream\b"
)
# What reaches the disk past the handle of a project's folder; core/base/folder_guard.h does not.
UNGUARDED = re.compile(
    r"\b(?:fs|filesystem)::(?:remove|remove_all|rename|copy|copy_file|exists|is_regular_file|is_directory|status|"
    r"symlink_status|create_directory|create_directories|directory_iterator|file_size)\b|\b[io]?fstream\b|"
    r"(?<![\w.>])::open\("
)
# Those that make or find the folder itself, or look at files outside of it.
OUTSIDE = {"project.cpp", "setup.cpp", "receiving.cpp", "proposal.cpp", "drop_folders.cpp"}
# What only core may call: the window shows and asks, it does not compute.
COMPUTING = re.compile(r"^(CGAL|Eigen|tbb|boost|pugixml|zip\.h|openssl|SQLiteCpp|sqlite3|nlohmann)")


def main(root):
    core = root / "src/core"
    order = re.findall(r"add_subdirectory\((\w+)\)", (core / "CMakeLists.txt").read_text())
    problems = []
    for place, folder in enumerate(order):
        cmake = (core / folder / "CMakeLists.txt").read_text()
        linked = {folder}
        for target, words in LINKS.findall(cmake):
            linked |= set(re.findall(r"wendrix_(\w+)", words))
        # What a linked folder links publicly may be used too.
        for other in list(linked):
            if other in order:
                text = (core / other / "CMakeLists.txt").read_text()
                for _, words in LINKS.findall(text):
                    linked |= set(re.findall(r"wendrix_(\w+)", words.split("PRIVATE")[0]))
        for name in linked & set(order):
            if order.index(name) > place:
                problems.append(f"src/core/{folder}/CMakeLists.txt: links upwards to {name}")
        for file in sorted((core / folder).rglob("*")):
            if file.suffix not in (".h", ".cpp"):
                continue
            for header in INCLUDE.findall(file.read_text()):
                where = f"{file.relative_to(root)}: includes {header}"
                if QT.match(header):
                    problems.append(f"{where}, but core knows no Qt")
                match = re.match(r"core/(\w+)/", header)
                if match and match[1] not in order:
                    problems.append(f"{where}, which is no core folder")
                elif match and order.index(match[1]) > place:
                    problems.append(f"{where}, which comes after {folder}")
                elif match and match[1] not in linked:
                    problems.append(f"{where}, but its target does not link wendrix_{match[1]}")
                if re.match(r"(app|cli|shell|scene)/", header):
                    problems.append(f"{where}, but core knows no screens")
    for place in ("src/core", "src/cli"):
        for file in sorted((root / place).rglob("*")):
            if file.suffix in (".h", ".cpp"):
                for found in BY_LOCALE.finditer(file.read_text()):
                    problems.append(
                        f"{file.relative_to(root)}: {found[0].rstrip('(')} follows the machine's language; "
                        "use core/base/number.h or fmt"
                    )
    for file in [*sorted((root / "src/core/project").glob("*.cpp")), root / "src/core/federation/member_cache.cpp"]:
        if file.name not in OUTSIDE:
            for found in UNGUARDED.finditer(file.read_text()):
                problems.append(
                    f"{file.relative_to(root)}: {found[0].rstrip('(')} may follow a link out of the project; "
                    "use core/base/folder_guard.h"
                )
    for file in sorted((root / "src/app").rglob("*")):
        if file.suffix in (".h", ".cpp"):
            for header in INCLUDE.findall(file.read_text()):
                if COMPUTING.match(header):
                    problems.append(f"{file.relative_to(root)}: includes {header}, but the window holds no computation")
    for problem in problems:
        print(problem)
    print(f"lint: {len(problems)} problems in {len(order)} core folders and the window")
    return 1 if problems else 0


if __name__ == "__main__":
    sys.exit(main(pathlib.Path(sys.argv[1]) if len(sys.argv) > 1 else pathlib.Path(__file__).resolve().parent.parent))
