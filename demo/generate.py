#!/usr/bin/env python3
"""Writes the demo deliveries of the Marrowfield Seed Store and the truth about them.

usage: generate.py [FOLDER]     (default: the folder of this file; writes truth.json and data/)

Everything is made up. The same program always writes the same bytes.
"""
import json
import math
import pathlib
import sys

import architecture
import building as b
import documents
import electrical
import issues
import piping
import specification
import structure
import ventilation
from ifc_writer import guid
from ventilation import BRANCH_Z, EXTRACT, MAIN_Z, MAINS, RADIUS, SUPPLY

TOLERANCE = 0.005


def clash(pair, left, right, depth, point, why, depth_within=1e-4, point_within=0.002):
    return {"test": pair, "left": left, "right": right, "depth": depth, "depthWithin": depth_within,
            "point": b.in_architecture(point), "pointWithin": point_within, "why": why}


def way_out(a, b_):
    """How far two boxes (low, high) must move apart along an axis to be free of each other."""
    return min(min(a[1][k] - b_[0][k], b_[1][k] - a[0][k]) for k in range(3))


def clashes():
    """Every clash by design, as (in the first revision, in the second)."""
    a, s, v = architecture.key_guid, lambda k: structure.guid(f"Structure {k}"), ventilation.key_guid
    sv, av, as_ = "Structure × Ventilation", "Architecture × Ventilation", "Architecture × Structure"
    over_branch = 3.3 - BRANCH_Z + RADIUS  # up, past the top of a partition
    round_off = 0.0025  # a round duct is cut into flats: up to 1 mm a side, and the same again along slopes
    first, both, second = [], [], []

    y, w, h = MAINS[SUPPLY]
    underside = {st: b.slab_bottom(b.ABOVE[st]) - 0.400 for st in b.FLOORS}
    for n in "456":
        bottom = underside["Level 2"]
        first.append(clash(sv, s(f"beam Level 3 {n}1"), v(f"main Level 2 {SUPPLY} long"), 0.120,
                           (b.NUMBERS[n], y, bottom + 0.06), "the supply main runs too high under three beams"))
    ye, we, he = MAINS[EXTRACT]
    first.append(clash(sv, s("beam Roof 61"), v(f"main Level 3 {EXTRACT} 4"), 0.008,
                       (b.NUMBERS["6"], ye, underside["Level 3"] + 0.004), "the extract main grazes a beam"))
    run = ((26.8 - RADIUS, MAINS[SUPPLY][0] + RADIUS, BRANCH_Z - RADIUS), (26.8 + RADIUS, 16.64, BRANCH_Z + RADIUS))
    for side, wall_y in (("S", b.CORE[1]), ("N", b.CORE[3] - b.CORE_WALL)):
        wall = ((b.CORE[0], wall_y, b.slab_top("Level 1")), (b.CORE[2], wall_y + b.CORE_WALL, b.slab_bottom("Level 2")))
        first.append(clash(sv, s(f"core Level 1 {side}"), v("branch Level 1 N3"), way_out(wall, run),
                           (26.8, wall_y + b.CORE_WALL / 2, BRANCH_Z), "no provision in the core wall", round_off))
    first.append(clash(sv, s("column Level 3 B3"), v("branch Level 3 S2"), 0.050,
                       (b.XS[2] + 0.175, b.YS[1], b.HEIGHT["Level 3"] + BRANCH_Z), "the branch cuts a column",
                       round_off, 0.02))
    # The brace leans from its foot near C towards B; the duct takes its height.
    run, rise = structure.BRACE_RUN, b.slab_bottom("Level 3") - b.slab_top("Level 2")
    first.append(clash(sv, s("brace Level 2 W2"), v(f"main Level 2 {SUPPLY} 0"), 0.25 + 0.1143 / 2,
                       (0.0, structure.BRACE_FEET[1] - run * (MAIN_Z + b.FINISH) / rise, b.HEIGHT["Level 2"] + MAIN_Z),
                       "the supply main reaches into the bracing", 0.004, 0.06))
    both.append(clash(av, a("corridor Level 2 N4"), v("branch Level 2 N4"), over_branch,
                      (b.XS[4] + 5.2, b.CORRIDOR_NORTH, b.HEIGHT["Level 2"] + BRANCH_Z), "no provision in the wall", round_off))
    for letter in "AB":
        both.append(clash(as_, a("cross Level 3 S4"), s(f"column Level 3 {letter}5"), 0.025,
                          (b.XS[4] + 0.1875, b.LETTERS[letter], b.HEIGHT["Level 3"] + 1.65), "the partition stands in a column"))
    deep = b.slab_bottom("Level 2") - 0.550
    for system, (ym, wm, hm) in MAINS.items():
        second.append(clash(sv, s("beam Level 2 31"), v(f"main Level 1 {system} 1"), MAIN_Z + hm / 2 - deep,
                            (b.NUMBERS["3"], ym, (MAIN_Z + hm / 2 + deep) / 2), "the beam became deeper"))
    second.append(clash(av, a("corridor Level 3 S2"), v("branch Level 3 S2"), over_branch,
                        (b.XS[2] + 1.03, b.CORRIDOR_SOUTH, b.HEIGHT["Level 3"] + BRANCH_Z),
                        "the branch left the opening provided for it", round_off))
    return first + both, both + second, first, second


def more_clashes():
    """What other tests find by design, in every revision: a pipe through twelve luminaires, what is twice, what is too near, and who is expected to meet."""
    p, e, a, s = (lambda k: guid(f"Piping {k}")), (lambda k: guid(f"Electrical {k}")), architecture.key_guid, (lambda k: structure.guid(f"Structure {k}"))
    radius, row = 65 / 2000 + 0.003, 0
    feed = []
    for i in range(4):
        for column in range(3):
            x = b.XS[i] + 1.2 + 2.4 * column
            # Down or up out of a luminaire of 50 mm is the shortest way.
            depth = min(piping.FEED_Z + radius - electrical.LIGHT_Z, electrical.LIGHT_Z + 0.05 - (piping.FEED_Z - radius))
            feed.append(clash("Piping × Electrical", p("feed Level 3"), e(f"light Level 3 {i}0{row}{column}"), depth,
                              (x, piping.FEED[2], b.HEIGHT["Level 3"] + (electrical.LIGHT_Z + electrical.LIGHT_Z + 0.05) / 2), "the sprinkler feed runs through the luminaires", 0.0025, 0.35))
    return {
        "feed": feed,
        "clearances": [{"test": CEILINGS, "left": a("ceiling Level 1 4"), "right": e("cabinet"), "wanted": 0.400, "there": electrical.CABINET_FREE}],
        "duplicates": [sorted((p(key), p(key.removesuffix(" again")))) for key in piping.TWICE],
        "expected": {revision: [sorted((s(one), s(other))) for one, other in structure.bolts(revision != "P01")] for revision in ("P01", "P02")},
        # The branch left the opening provided for it; through the other wall nobody provided one.
        "holes": {"P01": [{"left": a("corridor Level 2 N4"), "right": ventilation.key_guid("branch Level 2 N4"), "aside": None}],
                  "P02": [{"left": a("corridor Level 3 S2"), "right": ventilation.key_guid("branch Level 3 S2"), "aside": 0.8}]},
    }


CEILINGS = "Free below ceilings"


def test_sheet():
    """What the project tests: every discipline takes part."""
    def sides(left, right):
        return {"name": f"{left} × {right}", "left": f"discipline is {left}", "right": f"discipline is {right}"}
    tests = [sides(*pair) for pair in (("Structure", "Ventilation"), ("Architecture", "Ventilation"), ("Architecture", "Structure"), ("Piping", "Electrical"))]
    tests.append({"name": CEILINGS, "left": 'class is Covering and type is "Ceiling tiles"', "right": "class is DistributionBoard", "kind": "clearance",
                  "clearanceMetres": 0.400, "direction": "down"})
    tests.append({"name": "Piping, what is twice", "left": "discipline is Piping", "right": "", "kind": "duplicate", "priority": "low"})
    tests.append({"name": "Structure in itself", "left": "discipline is Structure", "right": ""})
    return {"format": "wendrix-test-sheet", "formatVersion": 1, "name": "Coordination", "defaults": {"toleranceMetres": TOLERANCE}, "sets": [], "tests": tests}


def keys(items):
    return [[c["left"], c["right"]] for c in items]


# Discipline, company, its people.
TEAMS = [
    ("Architecture", "Quillmere Architects", ["Mara Quill", "Teo Lindqvist"]),
    ("Structure", "Tarnbeck Frames", ["Jon Alder", "Priya Nand"]),
    ("Ventilation", "Vellowind", ["Sofie Brandt"]),
    ("Piping", "Ostermere Pipework", ["Olu Adeyemi", "Wen Castellan"]),
    ("Electrical", "Pellwick Electric", ["Rhea Moss"]),
]

# Discipline, revision, models, documents, time, cycle, title, suitability, note.
DELIVERIES = [
    ("Architecture", "P01", ["MSS-QMA-ARC-P01.ifc"], [], "2026-10-12T16:20:00Z", 1, "Stage 3 model", "S3", "Walls, openings, ceilings and the fittings of the laboratories."),
    ("Structure", "P01", ["MSS-TBF-STR-P01.ifc"], [], "2026-10-13T09:05:00Z", 1, "Frame and core", "S1", ""),
    ("Electrical", "P01", ["MSS-PWE-ELE-P01.ifc"], ["PWE-E-001-P01.pdf"], "2026-10-14T17:10:00Z", 1, "Trays, lighting, fire alarm", "S1", "Junction boxes are placed, not yet sized."),
    ("Piping", "P01", ["MSS-OPW-PIP-heating-P01.ifc", "MSS-OPW-PIP-sprinklers-P01.ifc"], ["OPW-H-P01.pdf"], "2026-10-15T10:40:00Z", 1, "Heating and sprinklers", "S1",
     "Two models: heating water, and the sprinklers for fire protection."),
    ("Ventilation", "P01", ["MSS-VLW-VEN-P01.ifc"], [], "2026-10-15T14:10:00Z", 1, "Mains and branches", "S1", ""),
    ("Structure", "P02", ["MSS-TBF-STR-P02.ifc"], [], "2026-11-16T17:42:00Z", 2, "Frame after review", "S3", "Bracing of Level 2 west taken out, provisions in the core."),
    ("Ventilation", "P02", ["MSS-VLW-VEN-P02.ifc"], [], "2026-11-17T11:30:00Z", 2, "Level 2 main lowered", "S3", ""),
    ("Electrical", "P02", ["MSS-PWE-ELE-P02.ifc"], [], "2026-11-18T08:15:00Z", 2, "Exported anew", "S1", ""),
    ("Electrical", "P03", ["MSS-PWE-ELE-P03.ifc"], ["PWE-E-001-P03.pdf"], "2026-11-23T09:50:00Z", 3, "Detectors of Level 1 moved", "S3", "Replaces P02, which was exported in the wrong unit."),
    ("Piping", "P02", ["MSS-OPW-PIP-heating-P02.ifc", "MSS-OPW-PIP-sprinklers-P02.ifc"], ["OPW-H-P02.pdf"], "2026-11-23T15:25:00Z", 3, "Sprinklers without bay 4 north", "S3", ""),
    ("Structure", "P03", ["MSS-TBF-STR-P03.ifc"], [], "2026-11-30T16:05:00Z", 4, "Frame, exported anew", "S3", "From the team's new template; the frame itself is that of P02."),
    ("Ventilation", "P03", ["MSS-VLW-VEN-P03.ifc"], [], "2026-12-01T11:10:00Z", 4, "Level 2 main, heights reset", "S3", ""),
    ("Electrical", "P04", ["MSS-PWE-ELE-P04.ifc"], [], "2026-12-01T15:40:00Z", 4, "Exported from a new template", "S3", "Every GlobalId is another one. Level 3 was raised by 50 mm, and the grid was traced again."),
]

# Classes that must say these properties, with what counts as one of the class in these files.
NEEDED = [("IfcWall", ("IfcWall", "IfcWallStandardCase"), "Pset_WallCommon", ("FireRating", "LoadBearing")), ("IfcDoor", ("IfcDoor",), "Pset_DoorCommon", ("FireRating",)),
          ("IfcSlab", ("IfcSlab",), "Pset_SlabCommon", ("FireRating", "LoadBearing"))]


def faults(team, revision, model):
    """What is to be found in one model by design, all of it: the rule's code, how its title begins, and the elements it concerns (none given: not compared)."""
    p = model.p
    found = []
    for _, classes, set_name, names in NEEDED:
        for name in names:
            without = sorted(p.id_of(key) for entity, key, _, _, sets in p.log if entity in classes and name not in sets.get(set_name, {}))
            if without:
                found.append({"code": "property.missing", "title": f"{set_name}.{name} is missing", "guids": without})
    proxies = sorted(p.id_of(key) for entity, key, _, _, _ in p.log if entity == "IfcBuildingElementProxy")
    if proxies:
        found.append({"code": "class.proxy", "title": "Elements are exported as proxies", "guids": proxies})
    if (team, revision) == ("Piping", "P02"):
        found.append({"code": "storeys.height", "title": "Storeys are not as high as in the reference", "guids": [guid(f"{p.own} {piping.WRONG_STOREY[0]}")]})
    if (team, revision) == ("Electrical", "P02"):  # in the wrong unit no height is right
        found.append({"code": "units.size", "title": "The whole model is", "guids": []})
        found.append({"code": "storeys.height", "title": "Storeys are not as high as in the reference", "guids": []})
    if team == "Ventilation":
        found.append({"code": "body.twice", "title": "Elements lie in each other, the same twice", "guids": sorted(guid(f"{p.team} {key}") for key in ventilation.doubled(revision))})
    if team == "Piping" and isinstance(model, piping.Heating):
        found.append({"code": "body.twice", "title": "Elements lie in each other, the same twice", "guids": sorted(guid(f"{p.team} {key}") for key in piping.TWICE)})
    if team == "Structure":
        found.append({"code": "schema.other", "title": "The model is written in IFC2X3", "guids": []})
    if team in ("Structure", "Ventilation", "Piping"):  # of an origin of their own
        found.append({"code": "place.none", "title": "The model does not say where on earth it is", "guids": []})
    return found


def coordinate_faults():
    """Why models do not stand on the reference, by file: kinds with what measures them; `previous` is the delivery before."""
    turned = {"kind": "turned", "degrees": math.degrees(b.TURN)}
    own = [turned, {"kind": "own-origin"}, {"kind": "conversion-missing"}]  # in project north, without a map conversion
    return {
        "MSS-QMA-ARC-P01.ifc": [],
        "MSS-PWE-ELE-P01.ifc": [],
        "MSS-PWE-ELE-P02.ifc": [{"kind": "unit-factor", "factor": 0.001}],
        "MSS-PWE-ELE-P04.ifc": [{"kind": "grid-differs", "axis": b.ELECTRICAL_AXIS[0], "metres": b.ELECTRICAL_AXIS[1]}],
        "MSS-OPW-PIP-heating-P01.ifc": own,
        "MSS-TBF-STR-P01.ifc": own + [{"kind": "height-offset", "metres": b.STRUCTURE_SHIFT[2]}],
        "MSS-TBF-STR-P03.ifc": own[:1] + own[2:] + [{"kind": "height-offset", "metres": b.STRUCTURE_SHIFT[2]},
                                                    {"kind": "origin-moved", "metres": math.hypot(*b.STRUCTURE_MOVED)}],
        "MSS-VLW-VEN-P03.ifc": own + [{"kind": "storey-offset", "metres": b.VENTILATION_LOW_SHIFT[2], "storeys": -1}],
    }


def write_models(folder):
    """Writes all models. @return their faults, by file"""
    quality = {}

    def write(team, revision, model, name):
        model.write(folder / name)
        quality[name] = faults(team, revision, model)

    write("Architecture", "P01", architecture.Architecture(), "MSS-QMA-ARC-P01.ifc")
    for revision in ("P01", "P02", "P03"):
        write("Structure", revision, structure.Structure(revision), f"MSS-TBF-STR-{revision}.ifc")
        write("Ventilation", revision, ventilation.Ventilation(revision), f"MSS-VLW-VEN-{revision}.ifc")
    for revision in ("P01", "P02"):
        write("Piping", revision, piping.Heating(revision), f"MSS-OPW-PIP-heating-{revision}.ifc")
        write("Piping", revision, piping.Sprinklers(revision), f"MSS-OPW-PIP-sprinklers-{revision}.ifc")
    for revision in ("P01", "P02", "P03", "P04"):
        write("Electrical", revision, electrical.Electrical(revision), f"MSS-PWE-ELE-{revision}.ifc")
    return quality


def main(out):
    folder = out / "data"
    folder.mkdir(parents=True, exist_ok=True)
    quality = write_models(folder)
    documents.heating(folder / "OPW-H-P01.pdf", "P01", "15 Oct 2026")
    documents.heating(folder / "OPW-H-P02.pdf", "P02", "23 Nov 2026")
    documents.electrical(folder / "PWE-E-001-P01.pdf", "P01", "14 Oct 2026")
    documents.electrical(folder / "PWE-E-001-P03.pdf", "P03", "23 Nov 2026")
    (folder / "marrowfield.ids").write_text(specification.IDS)
    first, second, cured, caused = clashes()
    more = more_clashes()
    found = {c["why"]: c for c in first}
    high, wall, column = (found[why] for why in ("the supply main runs too high under three beams", "no provision in the core wall", "the branch cuts a column"))
    issues.write_all(folder, [c["left"] for c in first if c["why"] == high["why"]], high["right"], wall["left"], wall["right"], column["left"], column["right"],
                     [tuple(c["point"]) for c in (high, wall, column)])
    truth = {
        "tolerance": TOLERANCE,
        "reference": "Architecture",
        "fits": {"Structure": b.true_fit(b.STRUCTURE_SHIFT), "Ventilation": b.true_fit(b.VENTILATION_SHIFT), "Piping": b.true_fit(b.PIPING_SHIFT)},
        "clashes": {"P01": first + more["feed"], "P02": second + more["feed"]}, **{key: more[key] for key in ("clearances", "duplicates", "expected", "holes")}, "cured": keys(cured), "caused": keys(caused),
        "changes": {"Structure": structure.changes(), "Ventilation": ventilation.changes()},
        "laterChanges": {"Piping": piping.changes(), "Electrical": electrical.changes()},
        "renewedChanges": electrical.renewed_changes(),
        "decline": ["Electrical", "P02"],
        "coordinates": coordinate_faults(), "before": {"MSS-TBF-STR-P03.ifc": "MSS-TBF-STR-P02.ifc"},
        "quality": quality,
        "specifications": specification.truth(),
    }
    (out / "truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n")
    companies = {name: company for name, company, _ in TEAMS}
    demo = {
        "project": "Marrowfield Seed Store", "federation": "Whole building", "reference": "Architecture",
        "coordinator": "Ines Varga",
        "disciplines": [{"name": name, "company": company, "people": people} for name, company, people in TEAMS],
        "groups": [{"name": "All engineers", "people": sorted(p for name, _, people in TEAMS if name != "Architecture" for p in people)}],
        "federations": [{"name": "Services only", "members": ["Ventilation", "Piping", "Electrical"]}],
        "specifications": ["marrowfield.ids"], "issues": {"sent": issues.SENT, "back": issues.BACK},
        "testSheet": test_sheet(),
        "deliveries": [{"discipline": name, "company": companies[name], "revision": revision, "models": models, "documents": papers, "time": time, "cycle": cycle,
                        "title": title, "suitability": suitability, "note": note}
                       for name, revision, models, papers, time, cycle, title, suitability, note in DELIVERIES],
    }
    (folder / "demo.json").write_text(json.dumps(demo, indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main(pathlib.Path(sys.argv[1]) if len(sys.argv) > 1 else pathlib.Path(__file__).resolve().parent)
