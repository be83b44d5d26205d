#!/usr/bin/env python3
"""Writes the XML schemas of BCF into one C++ file, so that a file can be held against them wherever the program runs.

Usage: bcf_schemas.py OUT.cpp FOLDER

FOLDER holds 2.1/*.xsd and 3.0/*.xsd. What a schema includes is put in its place: nothing is looked up when reading.
"""
import pathlib
import re
import sys


def whole(path):
    text = path.read_text(encoding="utf-8")

    def included(match):
        inner = (path.parent / match.group(1)).read_text(encoding="utf-8")
        return re.search(r"<xs:schema[^>]*>(.*)</xs:schema>", inner, re.S).group(1)

    return re.sub(r'<xs:include\s+schemaLocation="([^"]+)"\s*/>', included, text)


def main():
    out, folder = pathlib.Path(sys.argv[1]), pathlib.Path(sys.argv[2])
    rows = []
    for version in ("2.1", "3.0"):
        for path in sorted((folder / version).glob("*.xsd")):
            if "example" not in path.name:
                rows.append(f'    {{"{version}", "{path.stem}", R"xsd({whole(path)})xsd"}},\n')
    out.write_text('#include "core/bcf/schemas.h"\n\nnamespace wendrix::bcf {\n\nconst std::vector<SchemaText>& schemaTexts()\n{\n'
                   "    static const std::vector<SchemaText> kTexts{\n" + "".join(rows) + "    };\n    return kTexts;\n}\n\n"
                   "} // namespace wendrix::bcf\n", encoding="utf-8")


main()
