#!/usr/bin/env python3
"""Writes the schema lookup of src/core/ifc as C++ arrays from the schema fact tables.

usage: schema_tables.py OUT.cpp SCHEMA.json ...
"""
import json
import sys


def rows(tables):
    """The entities with every parent before its children, so that an index of a parent is known."""
    entities, order, seen = tables["entities"], [], set()

    def place(name):
        if name in seen:
            return
        seen.add(name)
        parent = entities[name]["parent"]
        if parent:
            place(parent)
        order.append(name)

    for name in entities:
        place(name)
    return order, {name: index for index, name in enumerate(order)}


def main(out, sources):
    text = ['#include "core/ifc/schema_tables.h"', "", "namespace wendrix::ifc::tables {", "", "namespace {", ""]
    names = []
    for source in sources:
        with open(source) as file:
            tables = json.load(file)
        name = tables["schema"]
        names.append(name)
        order, index = rows(tables)
        attributes, entity_rows = [], []
        for entity in order:
            row = tables["entities"][entity]
            parent = index[row["parent"]] if row["parent"] else -1
            entity_rows.append(
                f'    {{"{entity}", "{entity.upper()}", {parent}, {len(attributes)}, {len(row["attributes"])}}},')
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
