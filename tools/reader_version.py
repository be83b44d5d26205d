#!/usr/bin/env python3
"""Writes the version of the code that reads and builds models: a hash of its sources.

usage: reader_version.py OUT.h SOURCE ...

Whatever changes in them, a cache made by the old ones is not used any more: nobody has to remember to say so.
"""
import hashlib
import pathlib
import sys


def main(out, sources):
    digest = hashlib.sha256()
    for source in sorted(sources):
        digest.update(pathlib.Path(source).name.encode())
        digest.update(pathlib.Path(source).read_bytes())
    text = ("#pragma once\n\n#include <cstdint>\n\nnamespace wendrix::federation {\n\n"
            f"inline constexpr std::uint64_t kReaderVersion = 0x{digest.hexdigest()[:16]};\n\n"
            "} // namespace wendrix::federation\n")
    path = pathlib.Path(out)
    if not path.exists() or path.read_text() != text:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
