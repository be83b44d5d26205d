#!/usr/bin/env python3
"""What the demo's generator wrote comes back: each file is read a second time here, by nothing but regular
expressions, and compared with what wendrix-cli says, element by element.

usage: test_round_trip.py WENDRIX_CLI
"""
import json
import pathlib
import re
import subprocess
import sys

CLI = sys.argv[1]
DATA = pathlib.Path(__file__).resolve().parent.parent.parent / "demo/data"
LINE = re.compile(r"#(\d+)=(\w+)\((.*)\);$")
problems = []


def arguments(text):
    """The arguments of one entity as Python values: references as ints, texts as (text,), the rest as written."""
    out, at = [], 0

    def value():
        nonlocal at
        if text[at] == "'":
            end = at + 1
            while text[end] != "'" or text[end + 1:end + 2] == "'":
                end += 2 if text[end] == "'" else 1
            raw, at = text[at + 1:end].replace("''", "'"), end + 1
            return (re.sub(r"\\X2\\([0-9A-F]{4})\\X0\\", lambda m: chr(int(m[1], 16)), raw),)
        if text[at] == "(":
            at += 1
            items = []
            while text[at] != ")":
                items.append(value())
                at += text[at] == ","
            at += 1
            return items
        word = re.compile(r"[^,()]+").match(text, at)[0]
        at += len(word)
        if text[at:at + 1] == "(":
            return {word: value()}
        return int(word[1:]) if word.startswith("#") else None if word in "$*" else word

    while at < len(text):
        out.append(value())
        at += 1
    return out


def text_of(value):
    return value[0] if value else ""


def check(name, seen, expected):
    if seen != expected:
        problems.append(f"{name}: {seen!r}, should be {expected!r}")


for path in sorted(DATA.glob("*.ifc")):
    entities = {int(m[1]): (m[2], arguments(m[3])) for m in map(LINE.match, path.read_text().splitlines()) if m}
    relations = [a for kind, a in entities.values() if kind == "IFCRELCONTAINEDINSPATIALSTRUCTURE"]
    container = {e: r[5] for r in relations for e in r[4]}
    parents = {}
    for kind, a in entities.values():
        if kind in ("IFCRELAGGREGATES", "IFCRELNESTS"):
            parents.update({part: a[4] for part in a[5]})
    fills = {a[5]: a[4] for kind, a in entities.values() if kind == "IFCRELFILLSELEMENT"}
    voids = {a[5]: a[4] for kind, a in entities.values() if kind == "IFCRELVOIDSELEMENT"}
    types = {e: a[5] for kind, a in entities.values() if kind == "IFCRELDEFINESBYTYPE" for e in a[4]}
    sets = {}
    for kind, a in entities.values():
        if kind == "IFCRELDEFINESBYPROPERTIES":
            for e in a[4]:
                sets.setdefault(e, []).append(a[5])

    def storey(e):
        for _ in range(20):
            if e is None:
                return None
            if entities[e][0] == "IFCBUILDINGSTOREY":
                return text_of(entities[e][1][2])
            e = container.get(e) or parents.get(e) or fills.get(e) or voids.get(e)
        return None

    wanted = {}
    for number, (kind, a) in entities.items():
        if len(a) < 7 or not isinstance(a[6], int) or entities.get(a[6], ("",))[0] != "IFCPRODUCTDEFINITIONSHAPE":
            continue
        bodies = [r for r in entities[a[6]][1][2] if text_of(entities[r][1][1]) == "Body"]
        if bodies and kind not in ("IFCOPENINGELEMENT", "IFCANNOTATION", "IFCGRID"):
            wanted[text_of(a[0])] = (number, kind, text_of(a[2]), storey(number))
    read = json.loads(subprocess.run([CLI, "inspect", str(path)], check=True, capture_output=True).stdout)
    seen = {e["guid"]: e for e in read["elements"]}
    check(f"{path.name}: GlobalIds", sorted(seen), sorted(wanted))
    for guid, (number, kind, name, where) in wanted.items():
        e = seen.get(guid)
        if e is None:
            continue
        check(f"{path.name} {guid}: class", e["class"].upper(), kind)
        check(f"{path.name} {guid}: name", e["name"], name)
        check(f"{path.name} {guid}: storey", e["storey"], where)
        check(f"{path.name} {guid}: type", e["type"], text_of(entities[types[number]][1][2]) if number in types else "")
        check(f"{path.name} {guid}: closed", e["closed"], True)
    # The properties of every fortieth element, one call each.
    for guid, (number, *_) in list(wanted.items())[::40]:
        said = json.loads(subprocess.run([CLI, "inspect", "--properties", guid, str(path)], check=True, capture_output=True).stdout)
        names = [text_of(entities[s][1][2]) for s in sets.get(number, [])]
        check(f"{path.name} {guid}: sets", [s["name"] for s in said["sets"]][:len(names)], names)
        for s in sets.get(number, []):
            kind, a = entities[s]
            listed = a[4] if kind == "IFCPROPERTYSET" else a[5]
            ours = next((x for x in said["sets"] if x["name"] == text_of(a[2])), {"properties": []})
            check(f"{path.name} {guid}: {text_of(a[2])}", [p["name"] for p in ours["properties"]],
                  [text_of(entities[p][1][0]) for p in listed])
    print(f"{path.name}: {len(wanted)} elements compared")

absent = subprocess.run([CLI, "inspect", "--properties", "0" * 22, str(path)], capture_output=True)
check("a GlobalId that is not there", absent.returncode, 1)
print("\n".join(problems[:30]))
print(f"{'0 passed, ' + str(len(problems)) + ' failed' if problems else 'all passed'}")
sys.exit(1 if problems else 0)
