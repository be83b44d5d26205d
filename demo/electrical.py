"""The electrical team's model: IFC4X3, millimetres, in the architects' frame and on the map with them."""
import building as b
from architecture import SITE
from ifc_writer import Enum, guid
from project_file import Label, ProjectFile, Value

POWER, LIGHT, ALARM = "Power 230/400 V", "Lighting", "Fire alarm"
GREY, AMBER, WHITE, RED = (0.66, 0.67, 0.66), (0.83, 0.61, 0.14), (0.93, 0.93, 0.90), (0.72, 0.26, 0.22)
TRAYS = {"S": 8.00, "N": 12.30}
TRAY_Z, LIGHT_Z = 2.78, 2.40
CABINET, CABINET_FREE = (b.XS[4] + 1.9, 12.255), 0.260  # in the corridor of Level 1
RISE = {"Level 3": 0.05}  # how far the fourth delivery raises what stands there
DETECTOR_SHIFT = 0.60  # how far the third delivery moves the detectors of Level 1


class Electrical:
    def __init__(self, revision):
        self.revision = revision
        times = {"P01": "2026-10-14T17:10:00", "P02": "2026-11-18T08:15:00", "P03": "2026-11-23T09:50:00", "P04": "2026-12-01T15:40:00"}
        # The second delivery is drawn in millimetres and says it is in metres.
        self.p = ProjectFile("Electrical", "Pellwick Electric", "IFC4X3", "MILLI", b.ARCHITECTURE_SHIFT, b.TURN, time=times[revision],
                             first_id={"P01": 1, "P02": 51, "P03": 77, "P04": 77}[revision], site=SITE,
                             axis_off=b.ELECTRICAL_AXIS if revision == "P04" else None, renewed=revision == "P04", declared=None if revision == "P02" else "MILLI")
        self.f = self.p.f
        for storey in b.FLOORS:
            for side, y in TRAYS.items():
                self.trays(storey, side, y)
            for i in range(6):
                for j in range(3):
                    self.lights(storey, i, j)
                for side, y in (("S", 0.12), ("N", b.YS[-1] - 0.12)):
                    self.sockets(storey, i, side, y)
                self.detectors(storey, i)
            self.board(storey, f"Distribution board DB-{storey[-1]}", 21.4)
        # designed: reaches up to 260 mm below the ceiling, where 400 are wanted
        x, y = CABINET
        self.part("IfcDistributionBoard", "cabinet", "Control cabinet CC-1", "Level 1", (x, y, 0.1, x + 0.6, y + 0.4, 2.70 - CABINET_FREE),
                  "Control cabinet 600×2340", POWER, AMBER)
        self.board("Cellar", "Main switchboard MS-1", 12.0)

    def rise(self, storey):
        return RISE.get(storey, 0.0) if self.revision == "P04" else 0.0

    def part(self, entity, key, name, storey, box, kind, system, colour, **extra):
        x0, y0, z0, x1, y1, z1 = box
        item = self.f.box(x0, y0, z0 + self.rise(storey), x1, y1, z1 + self.rise(storey))
        self.f.colour([item], kind, colour)
        return self.p.element(entity, key, name, storey, [item], type=kind, system=system, **extra)

    def trays(self, storey, side, y):
        for i in range(6):
            x0, x1 = b.XS[i] + 0.25, b.XS[i + 1] - 0.25
            code = f"{storey[-1]}{side}{i + 1}"
            self.part("IfcCableCarrierSegment", f"tray {code}", f"Cable tray 300×60 {code}", storey, (x0, y - 0.15, TRAY_Z, x1, y + 0.15, TRAY_Z + 0.06),
                      "Cable tray 300×60", POWER, GREY, PredefinedType=Enum("CABLETRAYSEGMENT"), material="Galvanised steel")
            # designed: exported without a class of its own
            self.part("IfcBuildingElementProxy", f"box {code}", f"Junction box {code}", storey, (x0 + 3.0, y + 0.17, TRAY_Z - 0.02, x0 + 3.15, y + 0.32, TRAY_Z + 0.08),
                      "Junction box", POWER, GREY)

    def lights(self, storey, i, j):
        ends = (b.YS[j] + 0.9, b.YS[j + 1] - 0.9)
        rows = 3 if self.revision in ("P03", "P04") and (storey, i, j) == ("Level 3", 5, 1) else 2
        for row in range(rows):
            y = (ends[0] * (1 - row) + ends[1] * row) if row < 2 else (ends[0] + ends[1]) / 2
            for column in range(3):
                x = b.XS[i] + 1.2 + 2.4 * column
                self.p.element("IfcLightFixture", f"light {storey} {i}{j}{row}{column}", f"Luminaire {storey[-1]}.{i + 1}{'ABC'[j]}.{row * 3 + column + 1}", storey,
                               [self.p.map("light", self.light_items)], "MappedRepresentation", origin=(x, y, LIGHT_Z + self.rise(storey)), type="Luminaire 600×600, 36 W", system=LIGHT,
                               properties={"Pset_LightFixtureTypeCommon": {"TotalWattage": Value("IfcPowerMeasure", 36.0)}})

    def light_items(self):
        item = self.f.box(-0.3, -0.3, 0.0, 0.3, 0.3, 0.05)
        self.f.colour([item], "Luminaire", WHITE)
        return [item], "SweptSolid"

    def sockets(self, storey, i, side, y):
        for n in range(3):
            x = b.XS[i] + 1.4 + 2.1 * n
            self.part("IfcOutlet", f"socket {storey} {side}{i}{n}", f"Socket outlet {storey[-1]}{side}{i + 1}.{n + 1}", storey,
                      (x - 0.04, y - 0.02, 0.26, x + 0.04, y + 0.02, 0.34), "Socket outlet 230 V", POWER, WHITE, PredefinedType=Enum("POWEROUTLET"))

    def detectors(self, storey, i):
        shift = DETECTOR_SHIFT if self.revision in ("P03", "P04") and storey == "Level 1" else 0.0
        for n, y in enumerate((3.6, 10.8, 16.8)):
            x = b.XS[i] + 4.1 + shift
            item = self.f.extrude(self.f.circle(0.05), 0.04, (x, y, LIGHT_Z + 0.02 + self.rise(storey)))
            self.f.colour([item], "Detector", RED)
            self.p.element("IfcSensor", f"detector {storey} {i}{n}", f"Smoke detector {storey[-1]}{i + 1}.{n + 1}", storey, [item], type="Smoke detector Ø100", system=ALARM,
                           PredefinedType=Enum("SMOKESENSOR"))

    def board(self, storey, name, x):
        self.part("IfcDistributionBoard", f"board {storey}", name, storey, (x, 13.0, 0.1, x + 0.8, 13.3, 2.0), "Distribution board 800×1900", POWER, AMBER)

    def write(self, path):
        kinds = (("Cable tray", "IfcCableCarrierSegmentType"), ("Junction", "IfcBuildingElementProxyType"), ("Luminaire", "IfcLightFixtureType"),
                 ("Socket", "IfcOutletType"), ("detector", "IfcSensorType"), ("board", "IfcDistributionBoardType"), ("cabinet", "IfcDistributionBoardType"))
        self.p.finish(path, lambda name: next(kind for word, kind in kinds if word in name), system_entity="IfcDistributionSystem")


def changes():
    """What the third delivery changes against the first, by GlobalId; the second one is no use."""
    turned = [b.in_architecture((DETECTOR_SHIFT, 0, 0))[k] - b.in_architecture((0, 0, 0))[k] for k in range(3)]
    return {"added": [guid(f"Electrical light Level 3 512{column}") for column in range(3)], "removed": [], "reshaped": [], "redescribed": [], "rekeyed": [],
            "moved": [{"guid": guid(f"Electrical detector Level 1 {i}{n}"), "shift": turned} for i in range(6) for n in range(3)]}


def renewed_changes():
    """What the fourth delivery changes against the third: every GlobalId, and all of a storey is raised."""
    third, fourth = Electrical("P03").p, Electrical("P04").p
    return {"from": "MSS-PWE-ELE-P03.ifc", "to": "MSS-PWE-ELE-P04.ifc",
            "rekeyed": [{"old": third.id_of(key), "new": fourth.id_of(key)} for _, key, _, _, _ in fourth.log],
            "storey": next(iter(RISE)), "shift": [0, 0, next(iter(RISE.values()))],
            "moved": [fourth.id_of(key) for _, key, _, storey, _ in fourth.log if storey in RISE]}
