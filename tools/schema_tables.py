#!/usr/bin/env python3
"""Writes the schema lookup of src/core/ifc as C++ arrays from the schema fact tables.

usage: schema_tables.py OUT.cpp SCHEMA.json ...
"""
import json
import sys


def rows(tables):
    """The entities so that the descendants of each follow it without a gap, and where each one's last stands."""
    entities, children, roots = tables["entities"], {}, []
    for name, row in entities.items():
        (children.setdefault(row["parent"], []) if row["parent"] else roots).append(name)
    order, last = [], {}

    def place(name):
        order.append(name)
        for child in children.get(name, []):
            place(child)
        last[name] = len(order) - 1

    for name in roots:
        place(name)
    return order, {name: index for index, name in enumerate(order)}, last


def fnv(text):
    """FNV-1a of 32 bits, as ifc::Name has it."""
    value = 2166136261
    for byte in text.encode():
        value = (value ^ byte) * 16777619 & 0xFFFFFFFF
    return value


def refuse_collisions(names):
    by_hash = {}
    for name in names:
        other = by_hash.setdefault(fnv(name), name)
        if other != name:
            sys.exit(f"{name} and {other} have the same hash: give ifc::Name another one")


def main(out, sources):
    text = ['#include "core/ifc/schema_tables.h"', "", "namespace wendrix::ifc::tables {", "", "namespace {", ""]
    names = []
    for source in sources:
        with open(source) as file:
            tables = json.load(file)
        name = tables["schema"]
        names.append(name)
        order, index, last = rows(tables)
        refuse_collisions([*order, *(a[0] for row in tables["entities"].values() for a in row["attributes"])])
        attributes, entity_rows = [], []
        for entity in order:
            row = tables["entities"][entity]
            parent = index[row["parent"]] if row["parent"] else -1
            entity_rows.append(
                f'    {{"{entity}", "{entity.upper()}", {parent}, {last[entity]}, {len(attributes)}, {len(row["attributes"])}}},')
            attributes += [f'    "{a[0]}",' for a in row["attributes"]]
        text += [f"constexpr std::string_view k{name}Attributes[] = {{", *attributes, "};", ""]
        text += [f"constexpr EntityRow k{name}Entities[] = {{", *entity_rows, "};", ""]
    text += ["constexpr SchemaRow kSchemas[] = {"]
    text += [f'    {{"{n}", k{n}Entities, k{n}Attributes}},' for n in names]
    text += ["};", "", "} // namespace", "", "std::span<const SchemaRow> schemas() { return kSchemas; }", "",
             "} // namespace wendrix::ifc::tables", ""]
    with open(out, "w") as file:
        file.write("\n".join(text))


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
