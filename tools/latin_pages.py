#!/usr/bin/env python3
"""Writes the code pages that \\P.\\ of a STEP string chooses from (ISO 8859-1 to -9) as C++ arrays.

usage: latin_pages.py OUT.cpp
"""
import sys


def letter(page, code):
    try:
        return ord(bytes([code]).decode(f"iso8859_{page}"))
    except UnicodeDecodeError:
        return 0xFFFD


def main(out):
    text = ['#include "core/step/latin_pages.h"', "", "namespace wendrix::step {", "",
            "const std::array<std::array<char16_t, 96>, 9> kLatinPages{{"]
    for page in range(1, 10):
        text.append("    {{" + ", ".join(f"0x{letter(page, code):04X}" for code in range(0xA0, 0x100)) + "}},")
    text += ["}};", "", "} // namespace wendrix::step", ""]
    with open(out, "w") as file:
        file.write("\n".join(text))


if __name__ == "__main__":
    main(sys.argv[1])
