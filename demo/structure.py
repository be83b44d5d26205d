"""The structure team's model: IFC2X3, millimetres, an origin of its own, heights above the sea."""
import math

import building as b
from ifc_writer import Enum, guid
from project_file import Label, ProjectFile, Value

IPE = {"IPE 400": (0.180, 0.400, 0.0086, 0.0135, 0.021), "IPE 360": (0.170, 0.360, 0.0080, 0.0127, 0.018),
       "IPE 550": (0.210, 0.550, 0.0111, 0.0172, 0.024), "IPE 200": (0.100, 0.200, 0.0056, 0.0085, 0.012)}
BRACE_FEET, BRACE_RUN = (7.8, 12.6), 4.2  # y of the feet, and how far the braces lean
SPLIT_WALL, JOINT = 3, 0.02  # which retaining wall of the north the second revision cuts in two, and how wide
SLIM_COLUMN, SLIM_SIDE, SLIM_SHORT = ("Cellar", "A", "1"), 0.28, 0.25
CONCRETE, STEEL = (0.66, 0.67, 0.68), (0.42, 0.52, 0.62)


def rating(minutes, bearing=True):
    return (("FireRating", Label(f"R{minutes}")), ("LoadBearing", Value("IfcBoolean", bearing)))


class Structure:
    def __init__(self, revision):
        second = revision != "P01"
        self.second = second
        moved = revision == "P03"  # nothing changed but where it is exported from
        # A second export renumbers everything: ids and times are noise, never a change.
        self.p = ProjectFile("Structure", "Tarnbeck Frames", "IFC2X3", "MILLI",
                             b.STRUCTURE_MOVED_SHIFT if moved else b.STRUCTURE_SHIFT,
                             time={"P01": "2026-10-13T09:05:00", "P02": "2026-11-16T17:42:00", "P03": "2026-11-30T16:05:00"}[revision],
                             first_id=4001 if second else 1, step=3 if second else 1)
        self.f = self.p.f
        self.beams, self.bolted = {}, []
        self.footings()
        self.cellar()
        for storey, above in b.ABOVE.items():
            self.columns(storey, above)
            self.floor(above)
            self.core(storey, above)
        for storey in b.FLOORS:
            self.bracing(storey)
        self.connections()
        if second:
            for i, y0, y1 in ((1, 7.4, 10.0), (2, 10.0, 13.0)):
                self.beam("Level 3", "IPE 200", f"trimmer {i}", f"Trimmer beam T-{i}", (11.2, y0), (11.2, y1),
                          b.slab_bottom("Roof"))

    def footings(self):
        for n, x in b.NUMBERS.items():
            for l, y in b.LETTERS.items():
                dx = 0.30 if self.second and (l, n) == ("D", "7") else 0.0
                dz = -0.25 if self.second and (l, n) == ("A", "1") else 0.0
                self.p.element("IfcFooting", f"footing {l}{n}", f"Pad footing {l}{n}", "Cellar",
                               [self.f.extrude(self.f.rectangle(1.8, 1.8), 0.6)],
                               origin=(x + dx, y, -0.48 - 0.6 + dz), type="Pad 1800×1800×600",
                               material="Concrete C30/37", PredefinedType=Enum("PAD_FOOTING"))

    def cellar(self):
        out = b.CELLAR_EDGE + b.CELLAR_WALL
        xs = [-out] + b.XS[1:-1] + [b.XS[-1] + out]
        ys = [-out] + b.YS[1:-1] + [b.YS[-1] + out]
        for i in range(6):
            for j in range(3):
                self.slab("Cellar", f"base {i}{j}", f"Base slab {b_name(i, j)}", (xs[i], ys[j], xs[i + 1], ys[j + 1]),
                          -0.48, 0.40, "Base slab 400", Enum("BASESLAB"))
        height = b.slab_bottom("Level 1") - (b.HEIGHT["Cellar"] - 0.08)
        inner, far = b.CELLAR_EDGE, b.YS[-1] + b.CELLAR_EDGE
        for i in range(6):
            self.wall("Cellar", f"retaining S{i}", f"Retaining wall S-{i + 1}", (xs[i], -out, xs[i + 1], -inner), height)
            parts = [("", xs[i], xs[i + 1])]
            if self.second and i == SPLIT_WALL:  # an expansion joint in its middle
                middle = (xs[i] + xs[i + 1]) / 2
                parts = [(" a", xs[i], middle - JOINT / 2), (" b", middle + JOINT / 2, xs[i + 1])]
            for part, x0, x1 in parts:
                self.wall("Cellar", f"retaining N{i}{part}", f"Retaining wall N-{i + 1}{part}",
                          (x0, far, x1, far + b.CELLAR_WALL), height)
        ys = [-inner] + b.YS[1:-1] + [far]
        for j in range(3):
            self.wall("Cellar", f"retaining W{j}", f"Retaining wall W-{j + 1}", (-out, ys[j], -inner, ys[j + 1]), height)
            self.wall("Cellar", f"retaining E{j}", f"Retaining wall E-{j + 1}",
                      (b.XS[-1] + inner, ys[j], b.XS[-1] + out, ys[j + 1]), height)

    def wall(self, storey, key, name, rectangle, height, kind="Retaining wall 300"):
        x0, y0, x1, y1 = rectangle
        e = self.p.element("IfcWallStandardCase" if "core" in key else "IfcWall", key, name, storey,
                           [self.f.extrude(self.f.rectangle(x1 - x0, y1 - y0, ((x1 - x0) / 2, (y1 - y0) / 2)), height)],
                           origin=(x0, y0, -0.08), type=kind, material="Concrete C30/37",
                           properties={"Pset_WallCommon": dict(rating(90))})
        return e, self.p.last_placement

    def slab(self, storey, key, name, rectangle, bottom, thickness, kind, predefined):
        x0, y0, x1, y1 = rectangle
        if self.second and key in ("floor Level 200", "floor Level 211", "floor Roof33", "floor Level 322"):
            # The same slab written another way.
            profile = self.f.outline([(0, 0), (x1 - x0, 0), (x1 - x0, y1 - y0), (0, y1 - y0)])
        else:
            profile = self.f.rectangle(x1 - x0, y1 - y0, ((x1 - x0) / 2, (y1 - y0) / 2))
        e = self.p.element("IfcSlab", key, name, storey, [self.f.extrude(profile, thickness)],
                           origin=(x0, y0, bottom), type=kind, material="Concrete C30/37",
                           properties={"Pset_SlabCommon": dict(rating(90))}, PredefinedType=predefined)
        return e, self.p.last_placement

    def columns(self, storey, above):
        height = b.slab_bottom(above) - b.slab_top(storey)
        for n, x in b.NUMBERS.items():
            for l, y in b.LETTERS.items():
                # designed: stops short of the slab, then reaches it and is narrower
                own = (storey, l, n) == SLIM_COLUMN
                side, short = (SLIM_SIDE if own and self.second else b.COLUMN), (SLIM_SHORT if own and not self.second else 0.0)
                minutes = 120 if self.second and storey == "Level 1" and l == "B" and n in "234" else 90
                self.p.element("IfcColumn", f"column {storey} {l}{n}", f"Column {l}{n}", storey,
                               [self.f.extrude(self.f.rectangle(side, side), height - short)],
                               origin=(x, y, -b.FINISH), type="Column 400×400", material="Concrete C30/37",
                               properties={"Pset_ColumnCommon": dict(rating(minutes))})

    def floor(self, level):
        """The slab of a level and the beams under it; the beams stand in the storey below."""
        xs = [-b.EDGE] + b.XS[1:-1] + [b.XS[-1] + b.EDGE]
        ys = [-b.EDGE] + b.YS[1:-1] + [b.YS[-1] + b.EDGE]
        for i in range(6):
            for j in range(3):
                e, place = self.slab(level, f"floor {level}{i}{j}", f"Slab {level} {b_name(i, j)}",
                                     (xs[i], ys[j], xs[i + 1], ys[j + 1]), -b.FINISH - b.SLAB, b.SLAB, "Slab 260",
                                     Enum("ROOF") if level == "Roof" else Enum("FLOOR"))
                hole = None
                if (i, j) == (3, 1):
                    w = b.CORE_WALL
                    hole = (b.CORE[0] + w, b.CORE[1] + w, b.CORE[2] - w, b.CORE[3] - w)
                elif (i, j) == (1, 1) and level != "Roof":
                    hole = b.SHAFT
                if hole:
                    x, y = xs[i], ys[j]
                    self.p.opening(e, place, f"hole {level}{i}{j}", "Slab opening",
                                   self.f.box(hole[0] - x, hole[1] - y, -0.1, hole[2] - x, hole[3] - y, b.SLAB + 0.1))
        storey = {v: k for k, v in b.ABOVE.items()}[level]
        top = b.slab_bottom(level)
        half = b.COLUMN / 2
        for l, y in b.LETTERS.items():
            for i in range(6):
                self.beam(storey, "IPE 360", f"beam {level} {l}{i}", f"Beam {l} / {i + 1}-{i + 2}",
                          (b.XS[i] + half, y), (b.XS[i + 1] - half, y), top)
        letters = list(b.LETTERS)
        for n, x in b.NUMBERS.items():
            for j in range(3):
                deeper = self.second and level == "Level 2" and n == "3" and j == 1
                self.beam(storey, "IPE 550" if deeper else "IPE 400", f"beam {level} {n}{j}",
                          f"Beam {letters[j]}-{letters[j + 1]} / {n}", (x, b.YS[j] + half), (x, b.YS[j + 1] - half), top)

    def beam(self, storey, section, key, name, start, end, top):
        f = self.f
        length = (end[0] - start[0]) + (end[1] - start[1])
        along = (1.0, 0.0, 0.0) if end[0] > start[0] else (0.0, 1.0, 0.0)
        across = (0.0, 1.0, 0.0) if end[0] > start[0] else (-1.0, 0.0, 0.0)
        profile = f.i_shape(section, *IPE[section])
        solid = f.extrude(profile, length, (start[0], start[1], top - IPE[section][1] / 2 - b.HEIGHT[storey]),
                          along, across)
        f.colour([solid], "Steel", STEEL)
        self.beams[key] = self.p.element("IfcBeam", key, name, storey, [solid], type=section, material="Steel S355",
                       properties={"Pset_BeamCommon": dict(rating(60))})

    def core(self, storey, above):
        x0, y0, x1, y1 = b.CORE
        w = b.CORE_WALL
        height = b.slab_bottom(above) - b.slab_top(storey)
        walls = {"S": (x0, y0, x1, y0 + w), "N": (x0, y1 - w, x1, y1), "W": (x0, y0 + w, x0 + w, y1 - w),
                 "E": (x1 - w, y0 + w, x1, y1 - w)}
        for side, rectangle in walls.items():
            e, place = self.wall(storey, f"core {storey} {side}", f"Core wall {side}", rectangle, height, "Core wall 250")
            if side == "S":
                for number, x in ((1, 23.0), (2, 26.0)):
                    # Doors reach down through the floor finish to the slab.
                    self.p.opening(e, place, f"core door {storey} {number}", "Door opening",
                                   self.f.box(x - x0, -0.1, 0.0, x + 1.1 - x0, w + 0.1, b.FINISH + 2.2))
            if self.second and storey == "Level 1" and side in "SN":
                self.p.opening(e, place, f"core duct {side}", "Provision for duct",
                               self.f.box(26.8 - 0.15 - x0, -0.1, b.FINISH + 2.90 - 0.15, 26.8 + 0.15 - x0, w + 0.1,
                                          b.FINISH + 2.90 + 0.15))

    def bracing(self, storey):
        run, rise = BRACE_RUN, b.slab_bottom(b.ABOVE[storey]) - b.slab_top(storey)
        length = math.hypot(run, rise)
        # Stops short of the column and slab it is bolted to.
        inset = 0.35
        for end, x in (("W", 0.0), ("E", b.XS[-1])):
            for turn, y, sign in ((1, BRACE_FEET[0], 1.0), (2, BRACE_FEET[1], -1.0)):
                if self.second and storey == "Level 2" and end == "W":
                    continue
                direction = (0.0, sign * run / length, rise / length)
                origin = (x, y + sign * run * inset / length, -b.FINISH + rise * inset / length)
                solid = self.f.extrude(self.f.circle(0.05715, 0.0063), length - 2 * inset, origin, direction,
                                       (1.0, 0.0, 0.0))
                self.f.colour([solid], "Steel", STEEL)
                brace = self.p.element("IfcMember", f"brace {storey} {end}{turn}", f"Brace {end}-{turn}", storey, [solid],
                                       type="CHS 114.3×6.3", material="Steel S355")
                self.bolted.append((f"brace {storey} {end}{turn}", brace))

    def connections(self):
        """What the frame is bolted together with: both braces of a bay to each other, and to the beam above them."""
        braces = dict(self.bolted)
        for one, other in bolts(self.second):
            ends = {**braces, **self.beams}
            self.p.relate("IfcRelConnectsElements", f"{one} {other}", RelatingElement=ends[one], RelatedElement=ends[other])

    def write(self, path):
        self.p.finish(path, lambda name: "IfcBeamType" if "IPE" in name else "IfcMemberType" if "CHS" in name
                      else "IfcSlabType" if "lab" in name else "IfcWallType" if "wall" in name
                      else "IfcColumnType" if "Column" in name else "IfcBuildingElementProxyType")


def bolts(second):
    """Which elements are connected, by their keys: expected to meet."""
    pairs = []
    for storey in b.FLOORS:
        for end, number in (("W", "1"), ("E", "7")):
            if second and storey == "Level 2" and end == "W":
                continue  # taken out
            one, other = f"brace {storey} {end}1", f"brace {storey} {end}2"
            beam = f"beam {b.ABOVE[storey]} {number}1"
            pairs += [(one, other), (beam, one), (beam, other)]
    return pairs


def b_name(i, j):
    letters = list(b.LETTERS)
    return f"{letters[j]}-{letters[j + 1]} / {i + 1}-{i + 2}"


def changes():
    """What the second revision changes, by GlobalId."""
    def g(key):
        return guid(f"Structure {key}")
    area_400, area_550 = 0.0084464, 0.0134416  # IPE sections with their fillets, from the rolling tables, m²
    provision = 0.30 * 0.30 * b.CORE_WALL
    high = b.slab_bottom("Level 1") - b.slab_top("Cellar")
    return {
        "added": [g("trimmer 1"), g("trimmer 2")],
        "removed": [g("brace Level 2 W1"), g("brace Level 2 W2")],
        "moved": [{"guid": g("footing D7"), "shift": [0.30, 0, 0]}, {"guid": g("footing A1"), "shift": [0, 0, -0.25]}],
        "reshaped": [{"guid": g("core Level 1 S"), "added": 0, "removed": provision},
                     {"guid": g("core Level 1 N"), "added": 0, "removed": provision},
                     {"guid": g(f"column {SLIM_COLUMN[0]} {SLIM_COLUMN[1]}{SLIM_COLUMN[2]}"),
                      "added": SLIM_SIDE ** 2 * SLIM_SHORT, "removed": (b.COLUMN ** 2 - SLIM_SIDE ** 2) * (high - SLIM_SHORT),
                      "extents": f"{1000 * (b.COLUMN - SLIM_SIDE):.0f} mm narrower both ways, {1000 * SLIM_SHORT:.0f} mm longer"},
                     {"guid": g("beam Level 2 31"), "net": (area_550 - area_400) * 5.6}],
        "redescribed": [{"guid": g(f"column Level 1 B{n}"), "set": "Pset_ColumnCommon", "name": "FireRating",
                         "old": "R90", "new": "R120"} for n in "234"]
        + [{"guid": g("beam Level 2 31"), "set": "", "name": "Type", "old": "IPE 400", "new": "IPE 550"}],
        "rekeyed": [],
        "split": [{"old": g(f"retaining N{SPLIT_WALL}"), "new": [g(f"retaining N{SPLIT_WALL} {part}") for part in "ab"]}],
    }
