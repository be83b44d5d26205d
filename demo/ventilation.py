"""The ventilation team's model: IFC4, millimetres, its origin at D/1 on the cellar floor."""
import math
from dataclasses import dataclass

import building as b
from ifc_writer import Enum, guid
from project_file import Label, ProjectFile, Value

SUPPLY, EXTRACT = "Supply air", "Extract air"
MAIN_Z, BRANCH_Z = 3.20, 2.90
MAINS = {SUPPLY: (9.10, 0.70, 0.35), EXTRACT: (8.25, 0.60, 0.35)}  # y, width, height
RADIUS = 0.08
GREEN, BLUE = (0.55, 0.72, 0.66), (0.60, 0.70, 0.78)


@dataclass
class Branch:
    storey: str
    side: str       # S or N of the corridor
    bay: int        # 0 to 5
    x: float
    provision_x: float  # where the architects were told it would pass
    provided: bool  # whether the corridor wall has an opening for it


def branches(storey, revision):
    """The supply branches of a storey, one a room."""
    result = []
    if storey not in b.FLOORS:
        return result
    for i in range(6):
        for side in "SN":
            x = b.XS[i] + 5.2
            if (side, i) == ("N", 3) and storey != "Level 1":
                continue  # the core is in the way; only Level 1 tries
            provided, provision = True, x
            if (storey, side, i) == ("Level 2", "N", 4):
                provided = False  # designed: nobody provided an opening
            if (storey, side, i) == ("Level 3", "S", 2):
                provision = b.XS[2] + 0.23
                x = provision + (0.8 if revision != "P01" else 0.0)  # designed: 50 mm in the column, then moved
            result.append(Branch(storey, side, i, x, provision, provided))
    return result


def built(storey, revision):
    """The branches of a storey that are in this delivery."""
    return [br for br in branches(storey, revision) if revision == "P01" or (storey, br.side, br.bay) != ("Level 1", "S", 5)]


def doubled(revision):
    """Take-offs modelled twice by design: where two branches leave the main at one place, the second lies in the first."""
    keys = []
    for storey in b.FLOORS:
        seen = set()
        for br in built(storey, revision):
            if br.x in seen:
                keys.append(f"takeoff {storey} {br.side}{br.bay}")
            seen.add(br.x)
    return keys


class Ventilation:
    def __init__(self, revision):
        self.revision, second = revision, revision != "P01"
        self.second = second
        self.p = ProjectFile("Ventilation", "Vellowind", "IFC4", "MILLI",
                             b.VENTILATION_LOW_SHIFT if revision == "P03" else b.VENTILATION_SHIFT,
                             time={"P01": "2026-10-15T14:10:00", "P02": "2026-11-17T11:30:00", "P03": "2026-12-01T11:10:00"}[revision],
                             first_id=901 if second else 1, step=2 if second else 1)
        self.f = self.p.f
        for storey in b.FLOORS:
            self.mains(storey)
            for branch in built(storey, revision):
                self.branch(branch)
        self.risers()
        self.plant()
        if second:
            for i, x in enumerate((20.0, 34.0)):
                self.damper(f"damper {i}", f"Fire damper FD-{i + 1}", "Level 1", x)

    def duct(self, key, name, storey, x0, y0, z0, x1, y1, z1, system, kind, entity="IfcDuctSegment", flow=None):
        """A straight rectangular duct, swept along its longest side; heights relative to the storey."""
        f = self.f
        dx, dy, dz = x1 - x0, y1 - y0, z1 - z0
        cx, cy, cz = (x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2
        if dx >= dy and dx >= dz:
            solid = f.extrude(f.rectangle(dy, dz), dx, (x0, cy, cz), (1, 0, 0), (0, 1, 0))
        elif dy >= dz:
            solid = f.extrude(f.rectangle(dx, dz), dy, (cx, y0, cz), (0, 1, 0), (-1, 0, 0))
        else:
            solid = f.extrude(f.rectangle(dx, dy), dz, (cx, cy, z0))
        f.colour([solid], system, GREEN if system == SUPPLY else BLUE)
        sizes = sorted((dx, dy, dz))
        properties = {"Pset_DuctSegmentTypeCommon": {"NominalDiameterOrWidth": Value("IfcPositiveLengthMeasure", f.m(sizes[1])),
                                                     "NominalHeight": Value("IfcPositiveLengthMeasure", f.m(sizes[0]))}}
        if flow:
            properties["Marrowfield_Air"] = {"FlowRate": Value("IfcVolumetricFlowRateMeasure", flow)}
        self.p.element(entity, self.rekey(key), name, storey, [solid], type=kind, material="Galvanised steel",
                       system=system, properties=properties,
                       **({"PredefinedType": Enum("RIGIDSEGMENT")} if entity == "IfcDuctSegment" else {}))

    def rekey(self, key):
        """Two segments get new GlobalIds in the second revision, as if drawn again in the same place."""
        return key + " again" if self.second and key in REKEYED else key

    def mains(self, storey):
        for system, (y, width, height) in MAINS.items():
            word = "Supply duct" if system == SUPPLY else "Extract duct"
            code = ("SD" if system == SUPPLY else "ED") + f"-{storey[-1]}"
            cuts = [0.8] + [x + 0.9 for x in b.XS[1:-1]] + [42.4]
            spans = [(f"{i}", cuts[i], cuts[i + 1]) for i in range(6)]
            if storey == "Level 2" and system == SUPPLY:
                spans = spans[:2] + [("long", cuts[2], cuts[5])] + spans[5:]
            if storey == "Level 2" and system == SUPPLY:
                spans[0] = ("0", -0.25, cuts[1])  # designed: reaches into the bracing
            for number, (part, x0, x1) in enumerate(spans):
                z, w = MAIN_Z, width
                if storey == "Level 2" and part == "long" and not self.second:
                    z += 0.205  # designed: its top is 120 mm above the underside of the beams
                if (storey, system, part) == ("Level 3", EXTRACT, "4"):
                    z += 0.085 + (0.008 if not self.second else -0.100)  # designed: grazes a beam by 8 mm
                if (storey, system, part) == ("Level 1", EXTRACT, "0"):
                    z += 0.085 + 0.003  # 3 mm, under the tolerance: no clash
                if self.second and (storey, system, part) == ("Level 3", SUPPLY, "5"):
                    w = 0.60
                self.duct(f"main {storey} {system} {part}", f"{word} {w * 1000:.0f}×{height * 1000:.0f} {code}{number + 1:02}",
                          storey, x0, y - w / 2, z - height / 2, x1, y + w / 2, z + height / 2, system,
                          f"Rectangular duct {w * 1000:.0f}×{height * 1000:.0f}")

    def branch(self, br):
        f = self.f
        key = f"{br.storey} {br.side}{br.bay}"
        y_main, width, height = MAINS[SUPPLY]
        sign = -1.0 if br.side == "S" else 1.0
        code = f"{br.storey[-1]}{br.side}{br.bay + 1}"
        # Take-off: a short round stub between the main's underside and the branch.
        stub_y = y_main
        stub = f.extrude(f.circle(RADIUS), MAIN_Z - height / 2 - BRANCH_Z, (br.x, stub_y, BRANCH_Z))
        self.fitting(f"takeoff {key}", f"Take-off {code}", br.storey, [stub], "SweptSolid", "Take-off 160")
        end = 3.6 if br.side == "S" else 16.8
        start = stub_y + sign * RADIUS
        length = abs(end - start) - 0.16
        pipe = f.extrude(f.circle(RADIUS), length, (br.x, start, BRANCH_Z), (0, sign, 0), (1, 0, 0))
        f.colour([pipe], SUPPLY, GREEN)
        self.p.element("IfcDuctSegment", f"branch {key}", f"Supply branch Ø160 {code}", br.storey, [pipe],
                       type="Round duct Ø160", material="Galvanised steel", system=SUPPLY,
                       properties={"Pset_DuctSegmentTypeCommon": {
                           "NominalDiameterOrWidth": Value("IfcPositiveLengthMeasure", f.m(2 * RADIUS))}},
                       PredefinedType=Enum("RIGIDSEGMENT"))
        # A quarter bend down to the terminal, turned about a line across the branch.
        bend = f.add("IfcRevolvedAreaSolid", SweptArea=f.circle(RADIUS),
                     Position=f.place3((br.x, start + sign * length, BRANCH_Z), (0, sign, 0), (sign, 0, 0)),
                     Axis=f.add("IfcAxis1Placement", Location=f.point(0, -0.16, 0), Axis=f.direction(1, 0, 0)),
                     Angle=math.pi / 2)
        self.fitting(f"bend {key}", f"Bend 90° {code}", br.storey, [bend], "AdvancedSweptSolid", "Bend Ø160")
        self.p.element("IfcAirTerminal", f"terminal {key}", f"Ceiling diffuser {code}", br.storey,
                       [self.p.map("terminal", self.terminal_items)], "MappedRepresentation",
                       origin=(br.x, start + sign * (length + 0.16), BRANCH_Z - 0.16), type="Swirl diffuser 400",
                       material="Aluminium", system=SUPPLY, PredefinedType=Enum("DIFFUSER"),
                       properties={"Marrowfield_Air": {"FlowRate": Value("IfcVolumetricFlowRateMeasure", 0.12)}})

    def fitting(self, key, name, storey, items, kind, type_name):
        self.f.colour(items, SUPPLY, GREEN)
        self.p.element("IfcDuctFitting", key, name, storey, items, kind, type=type_name, material="Galvanised steel",
                       system=SUPPLY, PredefinedType=Enum("BEND" if "end" in name else "JUNCTION"))

    def terminal_items(self):
        """A hopper: square below, smaller above, as a faceted body."""
        a, c = 0.20, 0.09
        points = [(-a, -a, -0.12), (a, -a, -0.12), (a, a, -0.12), (-a, a, -0.12),
                  (-c, -c, 0.0), (c, -c, 0.0), (c, c, 0.0), (-c, c, 0.0)]
        faces = [(3, 2, 1, 0), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7)]
        solid = self.f.brep(points, faces)
        self.f.colour([solid], "Diffuser", (0.88, 0.89, 0.88))
        return [solid], "Brep"

    def risers(self):
        order = ["Cellar"] + b.FLOORS
        for system, x in ((SUPPLY, 9.2), (EXTRACT, 10.4)):
            word = system.split()[0]
            for storey, above in zip(order, order[1:]):
                bottom = 2.10 if storey == "Cellar" else MAIN_Z
                top = b.HEIGHT[above] - b.HEIGHT[storey] + MAIN_Z
                self.duct(f"riser {storey} {system}", f"{word} riser 400×400", storey, x - 0.2, 10.8, bottom, x + 0.2, 11.2,
                          top, system, "Rectangular duct 400×400")
        for storey in b.FLOORS:
            y, w, h = MAINS[SUPPLY]
            self.duct(f"link {storey} {SUPPLY}", "Supply link 400×300", storey, 9.0, y + w / 2, MAIN_Z - 0.15, 9.4, 10.8,
                      MAIN_Z + 0.15, SUPPLY, "Rectangular duct 400×300")
            y, w, h = MAINS[EXTRACT]
            self.duct(f"link {storey} {EXTRACT}", "Extract link 300×180", storey, 10.25, y, 2.82, 10.55, 10.8, 3.00,
                      EXTRACT, "Rectangular duct 300×180")

    def plant(self):
        f = self.f
        flow = 2.6 if self.second else 2.4
        for i, (system, y) in enumerate(((SUPPLY, 15.0), (EXTRACT, 17.6))):
            body = f.box(2.0, y, 0.15, 5.0, y + 1.6, 1.85)
            casing = f.box(2.9, y - 0.06, 0.35, 3.7, y - 0.001, 1.65)
            f.colour([body], "Casing", (0.78, 0.80, 0.79))
            f.colour([casing], "Door panel", (0.62, 0.66, 0.66))
            self.p.element("IfcUnitaryEquipment", f"unit {i}", f"Air handling unit {'SE'[i]}1", "Cellar", [body, casing],
                           type="Air handling unit 3000", material="Steel", system=system,
                           PredefinedType=Enum("AIRHANDLER"),
                           properties={"Marrowfield_Air": {"FlowRate": Value("IfcVolumetricFlowRateMeasure", flow),
                                                           "Filter": Label("F7")}})
        self.duct("plant supply 1", "Supply duct 400×400", "Cellar", 3.5, 15.6, 1.85, 3.9, 16.0, 2.10, SUPPLY,
                  "Rectangular duct 400×400")
        self.duct("plant supply 2", "Supply duct 400×400 main", "Cellar", 3.5, 15.6, 2.10, 9.0, 16.0, 2.50, SUPPLY,
                  "Rectangular duct 400×400")
        self.duct("plant supply 3", "Supply duct 400×400 to riser", "Cellar", 9.0, 11.2, 2.10, 9.4, 16.0, 2.50, SUPPLY,
                  "Rectangular duct 400×400")

    def damper(self, key, name, storey, x):
        y, w, h = MAINS[SUPPLY]
        f = self.f
        a, c = w / 2 + 0.02, h / 2 + 0.02
        points = [(x + dx, y + dy, MAIN_Z + dz) for dx in (0, 0.3) for dy, dz in ((-a, -c), (a, -c), (a, c), (-a, c))]
        faces = [(0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7)]
        solid = f.brep(points, faces)
        f.colour([solid], "Damper", (0.75, 0.45, 0.35))
        self.p.element("IfcDamper", key, name, storey, [solid], "Brep", type="Fire damper 740×390", material="Steel",
                       system=SUPPLY, PredefinedType=Enum("FIREDAMPER"))

    def write(self, path):
        def kind(name):
            for word, entity in (("Take-off", "IfcDuctFittingType"), ("Bend", "IfcDuctFittingType"),
                                 ("diffuser", "IfcAirTerminalType"), ("unit", "IfcUnitaryEquipmentType"),
                                 ("damper", "IfcDamperType")):
                if word in name:
                    return entity
            return "IfcDuctSegmentType"
        self.p.finish(path, kind, system_entity="IfcDistributionSystem")


REKEYED = (f"main Level 1 {EXTRACT} 3", f"main Level 1 {EXTRACT} 4")


def key_guid(key):
    return guid(f"Ventilation {key}")


def changes():
    """What the second revision changes, by GlobalId."""
    g = key_guid
    gone = "Level 1 S5"
    moved_branch = "Level 3 S2"
    parts = ("takeoff", "branch", "bend", "terminal")
    resized = f"main Level 3 {SUPPLY} 5"
    length = 42.4 - (b.XS[5] + 0.9)
    return {
        "added": [g("damper 0"), g("damper 1")],
        "removed": [g(f"{p} {gone}") for p in parts],
        "moved": [{"guid": g(f"main Level 2 {SUPPLY} long"), "shift": [0, 0, -0.205]},
                  {"guid": g(f"main Level 3 {EXTRACT} 4"), "shift": [0, 0, -0.108]}]
        + [{"guid": g(f"{p} {moved_branch}"), "shift": [0.8, 0, 0]} for p in parts],
        "reshaped": [{"guid": g(resized), "added": 0, "removed": 0.10 * 0.35 * length}],
        "redescribed": [{"guid": g(f"unit {i}"), "set": "Marrowfield_Air", "name": "FlowRate", "old": "2.4 m³/s",
                         "new": "2.6 m³/s"} for i in range(2)]
        + [{"guid": g(resized), "set": "", "name": "Type", "old": "Rectangular duct 700×350",
            "new": "Rectangular duct 600×350"}],
        "rekeyed": [{"old": g(k), "new": g(k + " again")} for k in REKEYED],
    }
