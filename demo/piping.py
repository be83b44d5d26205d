"""The piping team's two models: IFC4, metres, an origin of its own; heating and cooling water, and the sprinklers."""
import building as b
from ifc_writer import Enum, guid
from project_file import Label, ProjectFile, Value

FLOW, RETURN, SPRINKLER = "Heating flow", "Heating return", "Sprinkler water"
RED, BLUE, BRICK, STEEL = (0.72, 0.42, 0.36), (0.45, 0.55, 0.68), (0.75, 0.34, 0.28), (0.70, 0.72, 0.72)
MAIN_Z, RANGE_Z = 2.72, 2.56
MAINS = {"S": 6.60, "N": 13.90}
WRONG_STOREY = ("Level 2", 0.150)  # how much too high the second delivery has it, with everything on it
TWICE = ["pump 0 again", "vessel again"]  # what the heating model has twice
FEED, FEED_Z = (b.XS[0] + 0.5, b.XS[4] - 0.5, b.YS[0] + 0.9), 2.43  # from, to, y: a pipe along a row of luminaires
DROPPED = [("Level 1", 3, head) for head in range(6)]  # sprinkler heads the second delivery leaves out


class Pipes:
    """What both models are drawn with."""

    def __init__(self, revision, model):
        self.second = revision == "P02"
        raised = dict([WRONG_STOREY]) if self.second else {}
        self.p = ProjectFile("Piping", "Ostermere Pipework", "IFC4", None, b.PIPING_SHIFT,
                             time="2026-11-23T15:25:00" if self.second else "2026-10-15T10:40:00",
                             first_id=301 if self.second else 1, raised=raised, model=model)
        self.f = self.p.f

    def pipe(self, key, name, storey, start, end, dn, system, colour):
        """A straight pipe along x, y or z; heights relative to the storey."""
        f = self.f
        along = [v - u for u, v in zip(start, end)]
        length = sum(abs(v) for v in along)
        direction = tuple(v / length for v in along)
        solid = f.extrude(f.circle(dn / 2000 + 0.003, 0.003), length, start, direction,
                          (0, 0, 1) if abs(direction[2]) < 0.5 else (1, 0, 0))
        f.colour([solid], system, colour)
        self.p.element("IfcPipeSegment", key, f"{name} DN {dn}", storey, [solid], type=f"Steel pipe DN {dn}",
                       material="Steel", system=system, PredefinedType=Enum("RIGIDSEGMENT"),
                       properties={"Pset_PipeSegmentTypeCommon": {"NominalDiameter": Value("IfcPositiveLengthMeasure", dn / 1000)}})

    def block(self, entity, key, name, storey, box, type_name, system, colour, **extra):
        item = self.f.box(*box)
        self.f.colour([item], type_name, colour)
        self.p.element(entity, key, name, storey, [item], type=type_name, material="Steel", system=system, **extra)

    def write(self, path):
        kinds = (("Steel pipe", "IfcPipeSegmentType"), ("Elbow", "IfcPipeFittingType"), ("Tee", "IfcPipeFittingType"),
                 ("valve", "IfcValveType"), ("Radiator", "IfcSpaceHeaterType"), ("pump", "IfcPumpType"),
                 ("Boiler", "IfcBoilerType"), ("vessel", "IfcTankType"), ("tank", "IfcTankType"),
                 ("Sprinkler", "IfcFireSuppressionTerminalType"))
        self.p.finish(path, lambda name: next(kind for word, kind in kinds if word in name),
                      system_entity="IfcDistributionSystem")


class Heating(Pipes):
    def __init__(self, revision):
        super().__init__(revision, "heating")
        for storey in b.FLOORS:
            for side, y in MAINS.items():
                for i in range(6):
                    self.bay(storey, side, y, i)
        for offset, system, colour in ((0.0, FLOW, RED), (0.3, RETURN, BLUE)):
            order = ["Cellar"] + b.FLOORS
            for storey, above in zip(order, order[1:]):
                self.pipe(f"riser {storey} {system}", "Riser", storey, (9.0 + offset, 11.3, MAIN_Z if storey != "Cellar" else 1.0),
                          (9.0 + offset, 11.3, b.HEIGHT[above] - b.HEIGHT[storey] + MAIN_Z - 0.05), 65, system, colour)
        self.plant()

    def bay(self, storey, side, y, i):
        code = f"{storey[-1]}{side}{i + 1}"
        x0, x1 = b.XS[i] + 0.35, b.XS[i + 1] - 0.35
        sign = -1.0 if side == "S" else 1.0
        wall = b.YS[0] + 0.25 if side == "S" else b.YS[-1] - 0.25
        for offset, system, colour, word in ((0.0, FLOW, RED, "flow"), (0.22, RETURN, BLUE, "return")):
            line = y - sign * offset
            self.pipe(f"main {code} {word}", f"Heating {word} {code}", storey, (x0, line, MAIN_Z), (x1 - 0.06, line, MAIN_Z), 50, system, colour)
            self.block("IfcPipeFitting", f"tee {code} {word}", f"Tee {code} {word}", storey,
                       (x1 - 0.06, line - 0.05, MAIN_Z - 0.05, x1 + 0.06, line + 0.05, MAIN_Z + 0.05), "Tee DN 50", system, colour,
                       PredefinedType=Enum("JUNCTION"))
            x = x0 + 2.2 + offset * 2
            end = wall - sign * 0.15
            self.pipe(f"branch {code} {word}", f"Radiator {word} {code}", storey, (x, line + sign * 0.06, MAIN_Z - 0.10), (x, end, MAIN_Z - 0.10), 20, system, colour)
            self.pipe(f"drop {code} {word}", f"Drop {word} {code}", storey, (x, end, 0.75), (x, end, MAIN_Z - 0.14), 20, system, colour)
        self.block("IfcSpaceHeater", f"radiator {code}", f"Radiator 1200×600 {code}", storey,
                   (x0 + 2.0, wall - 0.06, 0.12, x0 + 3.2, wall + 0.06, 0.72), "Radiator 1200×600", FLOW, (0.90, 0.90, 0.88),
                   PredefinedType=Enum("RADIATOR"))
        self.block("IfcValve", f"valve {code}", f"Thermostatic valve {code}", storey,
                   (x0 + 3.2, wall - 0.03, 0.60, x0 + 3.28, wall + 0.03, 0.68), "Thermostatic valve DN 20", FLOW, STEEL,
                   PredefinedType=Enum("REGULATING"))

    def plant(self):
        for i, x in enumerate((16.0, 18.0)):
            self.block("IfcBoiler", f"boiler {i}", f"Boiler HB-{i + 1}", "Cellar", (x, 15.0, 0.10, x + 0.9, 16.2, 1.60), "Boiler 120 kW", FLOW, STEEL,
                       PredefinedType=Enum("WATER"))
            self.block("IfcPump", f"pump {i}", f"Heating pump HP-{i + 1}", "Cellar", (x, 17.0, 0.40, x + 0.35, 17.4, 0.80), "Heating pump 4 m³/h", FLOW, STEEL,
                       PredefinedType=Enum("CIRCULATOR"))
        for key in ("vessel", "vessel again"):  # designed: drawn twice, and so is a pump
            self.block("IfcTank", key, "Expansion vessel 300 l", "Cellar", (20.2, 15.2, 0.05, 20.9, 15.9, 1.35), "Expansion vessel 300 l", FLOW, BRICK,
                       PredefinedType=Enum("PRESSUREVESSEL"))
        self.block("IfcPump", "pump 0 again", "Heating pump HP-1", "Cellar", (16.0, 17.0, 0.40, 16.35, 17.4, 0.80), "Heating pump 4 m³/h", FLOW, STEEL,
                   PredefinedType=Enum("CIRCULATOR"))


class Sprinklers(Pipes):
    def __init__(self, revision):
        super().__init__(revision, "sprinklers")
        for storey in b.FLOORS:
            for i in range(6):
                x0, x1 = b.XS[i] + 0.30, b.XS[i + 1] - 0.30
                self.pipe(f"main {storey} {i}", f"Sprinkler main {storey[-1]}{i + 1}", storey, (x0, 10.35, RANGE_Z), (x1, 10.35, RANGE_Z), 80, SPRINKLER, BRICK)
            for n in range(12):
                self.range_pipe(storey, n, 1.9 + 3.55 * n)
        # designed: through twelve luminaires
        self.pipe("feed Level 3", "Sprinkler feed 3", "Level 3", (FEED[0], FEED[2], FEED_Z), (FEED[1], FEED[2], FEED_Z), 65, SPRINKLER, BRICK)
        self.block("IfcTank", "tank", "Sprinkler tank 40 m³", "Cellar", (33.0, 14.0, 0.0, 38.0, 18.0, 2.0), "Sprinkler tank 40 m³", SPRINKLER, STEEL,
                   PredefinedType=Enum("STORAGE"))
        for i in range(2):
            self.block("IfcPump", f"pump {i}", f"Sprinkler pump SP-{i + 1}", "Cellar", (31.0 + i, 15.0, 0.3, 31.6 + i, 15.8, 1.0), "Sprinkler pump 900 l/min",
                       SPRINKLER, BRICK, PredefinedType=Enum("SPLITCASE"))

    def range_pipe(self, storey, n, x):
        code = f"{storey[-1]}-{n + 1:02}"
        for side, y0, y1 in (("S", 1.2, 10.27), ("N", 10.43, 19.2)):
            self.pipe(f"range {storey} {n} {side}", f"Range pipe {code} {side}", storey, (x, y0, RANGE_Z), (x, y1, RANGE_Z), 40, SPRINKLER, BRICK)
        for h, y in enumerate((2.0, 5.2, 8.5, 11.9, 15.1, 18.3)):
            if self.second and (storey, n, h) in DROPPED:
                continue
            self.pipe(f"drop {storey} {n} {h}", f"Drop {code}/{h + 1}", storey, (x, y, RANGE_Z - 0.13), (x, y, RANGE_Z - 0.025), 25, SPRINKLER, BRICK)
            self.p.element("IfcFireSuppressionTerminal", f"head {storey} {n} {h}", f"Sprinkler head {code}/{h + 1}", storey,
                           [self.p.map("head", self.head_items)], "MappedRepresentation", origin=(x, y, RANGE_Z - 0.19),
                           type="Sprinkler head K80, 68 °C", material="Brass", system=SPRINKLER, PredefinedType=Enum("SPRINKLER"),
                           properties={"Pset_FireSuppressionTerminalTypeSprinkler": {"ActivationTemperature": Value("IfcThermodynamicTemperatureMeasure", 341.15)}})

    def head_items(self):
        body = self.f.extrude(self.f.circle(0.018), 0.05)
        plate = self.f.extrude(self.f.circle(0.032), 0.004, (0, 0, -0.008))
        self.f.colour([body, plate], "Brass", (0.78, 0.66, 0.38))
        return [body, plate], "SweptSolid"


def changes():
    """What the second delivery changes, by GlobalId; everything of the wrong storey stands higher."""
    gone = [guid(f"Piping {part} {s} {n} {h}") for s, n, h in DROPPED for part in ("drop", "head")]
    moved = [guid(f"Piping {key}") for model in (Heating("P02"), Sprinklers("P02")) for _, key, _, storey, _ in model.p.log if storey == WRONG_STOREY[0]]
    return {"added": [], "removed": gone, "moved": [{"guid": g, "shift": [0, 0, WRONG_STOREY[1]]} for g in moved], "reshaped": [], "redescribed": [],
            "rekeyed": []}
