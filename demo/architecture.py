"""The architecture team's model: IFC4, metres, placed on the map, turned within its project frame."""
import math

import building as b
from ifc_writer import Enum, guid
from project_file import Label, ProjectFile, Value
from ventilation import branches

SITE = {"eastings": 431208.4, "northings": 5410977.15, "height": 312.6,
        "xAxis": (math.cos(math.radians(3.0)), math.sin(math.radians(3.0))),
        # Grid north lies 3° clockwise of the project's +Y; true north is turned by the meridian convergence too.
        "trueNorth": (-math.sin(math.radians(-2.294)), math.cos(math.radians(-2.294))),
        "latitude": [48, 50, 53, 400000], "longitude": [8, 3, 44, 200000]}
RENDER, GLASS, WOOD, WHITE = (0.86, 0.82, 0.72), (0.62, 0.78, 0.82), (0.70, 0.54, 0.36), (0.93, 0.93, 0.91)
STEEL = (0.72, 0.74, 0.75)


def cross_wall(storey, side, i):
    """Where the centre line of the partition near axis i+1 runs."""
    if (storey, side, i) == ("Level 3", "S", 4):
        return b.XS[i] + 0.25  # designed: stands 25 mm in two columns
    if (storey, side, i) == ("Level 3", "S", 2):
        return b.XS[i] + 0.65  # leaves room for a diffuser
    return b.XS[i] + 0.45


class Architecture:
    def __init__(self):
        self.p = ProjectFile("Architecture", "Quillmere Architects", "IFC4", None, b.ARCHITECTURE_SHIFT, b.TURN,
                             time="2026-10-12T16:20:00", site=SITE)
        self.f = self.p.f
        for storey in b.FLOORS:
            self.facade(storey)
            self.partitions(storey)
            self.ceilings(storey)
        for storey in b.ABOVE:
            self.finish(storey)
            self.core_fittings(storey)
        self.cellar()
        self.roof()

    # walls and what is in them
    def wall(self, storey, key, name, rectangle, z0, height, kind, material="Masonry", rating="EI 60", external=False):
        x0, y0, x1, y1 = rectangle
        solid = self.f.extrude(self.f.rectangle(x1 - x0, y1 - y0, ((x1 - x0) / 2, (y1 - y0) / 2)), height)
        self.f.colour([solid], kind, RENDER if external else WHITE)
        e = self.p.element("IfcWall", key, name, storey, [solid], origin=(x0, y0, z0), type=kind, material=material,
                           properties={"Pset_WallCommon": {"FireRating": Label(rating),
                                                           "IsExternal": Value("IfcBoolean", external),
                                                           "LoadBearing": Value("IfcBoolean", False)}},
                           PredefinedType=Enum("SOLIDWALL" if external else "PARTITIONING"))
        return e, self.p.last_placement

    def filled(self, wall, storey, key, name, hole, entity, map_key, make, origin, ref, kind, z0=0.0, **extra):
        """An opening in a wall with a door or window standing in it; the hole is relative to the wall."""
        e, place = wall
        filling = self.p.element(entity, key, name, storey, [self.p.map(map_key, make)], "MappedRepresentation",
                                 origin=origin, ref=ref, type=kind, material="Timber and glass", **extra)
        self.p.opening(e, place, f"{key} hole", "Opening", self.f.box(*hole), filling)

    def window_items(self):
        f = self.f
        frame = f.extrude(f.outline([(0, 0), (1.6, 0), (1.6, 1.8), (0, 1.8)],
                                    [[(0.07, 0.07), (0.765, 0.07), (0.765, 1.73), (0.07, 1.73)],
                                     [(0.835, 0.07), (1.53, 0.07), (1.53, 1.73), (0.835, 1.73)]]),
                          0.08, (0, 0.04, 0), (0, -1, 0), (1, 0, 0))
        panes = [f.box(x, -0.012, 0.07, x + 0.695, 0.012, 1.73) for x in (0.07, 0.835)]
        f.colour([frame], "Timber frame", WOOD)
        f.colour(panes, "Glass", GLASS, 0.6)
        return [frame, *panes], "SweptSolid"

    def door_items(self):
        f = self.f
        frame = f.extrude(f.outline([(0, 0), (0.06, 0), (0.06, 2.04), (0.95, 2.04), (0.95, 0), (1.01, 0), (1.01, 2.1),
                                     (0, 2.1)]), 0.12, (0, 0.06, 0), (0, -1, 0), (1, 0, 0))
        leaf = f.box(0.06, -0.02, 0.005, 0.95, 0.02, 2.04)
        f.colour([frame], "Door frame", STEEL)
        f.colour([leaf], "Timber", WOOD)
        return [frame, leaf], "SweptSolid"

    def facade(self, storey):
        z0 = -b.FINISH - b.SLAB
        height = b.HEIGHT[b.ABOVE[storey]] - b.HEIGHT[storey]
        inner, outer = b.EDGE, b.EDGE + b.OUTER
        xs = [-outer] + b.XS[1:-1] + [b.XS[-1] + outer]
        ys = [-inner] + b.YS[1:-1] + [b.YS[-1] + inner]
        far_y, far_x = b.YS[-1] + inner, b.XS[-1] + inner
        for i in range(6):
            for side, y0 in (("S", -outer), ("N", far_y)):
                wall = self.wall(storey, f"facade {storey} {side}{i}", f"Outer wall {side}-{i + 1}",
                                 (xs[i], y0, xs[i + 1], y0 + b.OUTER), z0, height, "Outer wall 365", rating="REI 90",
                                 external=True)
                # The cold side of Level 1 keeps its walls whole but for a high band of one window a bay.
                for k, x in enumerate((1.3, 4.3) if not (storey == "Level 1" and side == "N") else (2.8,)):
                    at = b.XS[i] + x
                    hole = (at - xs[i], -0.1, 0.9 - z0, at + 1.6 - xs[i], b.OUTER + 0.1, 2.7 - z0)
                    self.filled(wall, storey, f"window {storey} {side}{i}{k}", f"Window {side}-{i + 1}{'ab'[k]}", hole,
                                "IfcWindow", "window", self.window_items, (at, y0 + b.OUTER / 2, 0.9), None,
                                "Window 1600×1800", OverallHeight=1.8, OverallWidth=1.6)
        for j in range(3):
            for side, x0 in (("W", -outer), ("E", far_x)):
                wall = self.wall(storey, f"facade {storey} {side}{j}", f"Outer wall {side}-{j + 1}",
                                 (x0, ys[j], x0 + b.OUTER, ys[j + 1]), z0, height, "Outer wall 365", rating="REI 90",
                                 external=True)
                if j != 1:
                    continue
                at = (b.YS[1] + b.YS[2]) / 2 - 0.8
                hole = (-0.1, at - ys[j], 0.9 - z0, b.OUTER + 0.1, at + 1.6 - ys[j], 2.7 - z0)
                self.filled(wall, storey, f"window {storey} {side}", f"Window {side}", hole, "IfcWindow", "window",
                            self.window_items, (x0 + b.OUTER / 2, at, 0.9), (0.0, 1.0, 0.0), "Window 1600×1800",
                            OverallHeight=1.8, OverallWidth=1.6)

    def corridor_walls(self, storey, height, doors_at, key="", kind="Partition 150"):
        half = b.PARTITION / 2
        edge = b.EDGE if storey != "Cellar" else b.CELLAR_EDGE
        xs = [-edge] + b.XS[1:-1] + [b.XS[-1] + edge]
        for i in range(6):
            for side, y in (("S", b.CORRIDOR_SOUTH), ("N", b.CORRIDOR_NORTH)):
                wall = self.wall(storey, f"corridor {storey} {side}{i}", f"Corridor wall {side}-{i + 1}",
                                 (xs[i], y - half, xs[i + 1], y + half), 0.0, height, kind, "Plasterboard on studs")
                at = b.XS[i] + doors_at
                hole = (at - xs[i], -0.1, 0.0, at + 1.01 - xs[i], b.PARTITION + 0.1, 2.1)
                self.filled(wall, storey, f"door {storey} {side}{i}", f"Door {side}-{i + 1}", hole, "IfcDoor", "door",
                            self.door_items, (at, y, 0.0), None, "Door 1010×2100", OverallHeight=2.1, OverallWidth=1.01)
                for branch in branches(storey, "P01"):
                    if branch.side == side and branch.bay == i and branch.provided:
                        x = branch.provision_x - xs[i]
                        self.p.opening(*wall, f"provision {storey} {side}{i}", "Provision for duct",
                                       self.f.box(x - 0.12, -0.1, 2.90 - 0.12, x + 0.12, b.PARTITION + 0.1, 2.90 + 0.12))
                if storey == "Cellar" and side == "N" and i == 1:
                    x = 9.2 - xs[i]
                    self.p.opening(*wall, "provision Cellar", "Provision for duct",
                                   self.f.box(x - 0.3, -0.1, 2.05, x + 0.3, b.PARTITION + 0.1, 2.55))

    def partitions(self, storey):
        self.corridor_walls(storey, 3.3, 1.2)
        half = b.PARTITION / 2
        south = (-b.EDGE, b.CORRIDOR_SOUTH - half)
        north = (b.CORRIDOR_NORTH + half, b.YS[-1] + b.EDGE)
        for i in range(1, 6):
            for side, (y0, y1) in (("S", south), ("N", north)):
                x = cross_wall(storey, side, i)
                self.wall(storey, f"cross {storey} {side}{i}", f"Partition {side}-{i + 1}", (x - half, y0, x + half, y1),
                          0.0, 3.3, "Partition 150", "Plasterboard on studs")
        names = {"S": ["Seed intake", "Drying room", "Cleaning lab", "Germination lab", "Microscopy", "Archive"],
                 "N": ["Seed lab", "Cold lab", "Tissue culture", "Genetics lab", "Instrument room", "Office"]}
        for i in range(6):
            for side, (y0, y1) in (("S", south), ("N", north)):
                x0 = -b.EDGE if i == 0 else cross_wall(storey, side, i) + half
                x1 = b.XS[-1] + b.EDGE if i == 5 else cross_wall(storey, side, i + 1) - half
                self.space(storey, f"room {storey} {side}{i}", names[side][i], (x0, y0, x1, y1), 3.3)
                self.furniture(storey, side, i, x0, y0, y1)
        self.space(storey, f"corridor {storey}", "Corridor", (-b.EDGE, b.CORRIDOR_SOUTH + half, b.XS[-1] + b.EDGE, b.CORE[1]),
                   2.7)

    def space(self, storey, key, name, rectangle, height):
        x0, y0, x1, y1 = rectangle
        solid = self.f.extrude(self.f.rectangle(x1 - x0, y1 - y0, ((x1 - x0) / 2, (y1 - y0) / 2)), height)
        self.p.element("IfcSpace", key, name, storey, [solid], origin=(x0, y0, 0.0),
                       CompositionType=Enum("ELEMENT"), PredefinedType=Enum("INTERNAL"), LongName=name)

    def bench_items(self):
        f = self.f
        top = f.box(0, 0, 0.87, 1.8, 0.75, 0.90)
        carcass = f.box(0.02, 0.05, 0.10, 1.78, 0.70, 0.87)
        f.colour([top], "Bench top", (0.30, 0.33, 0.35))
        f.colour([carcass], "Bench", WHITE)
        return [top, carcass], "SweptSolid"

    def tank_items(self):
        """A cryogenic tank: an outline turned about its axis."""
        f = self.f
        outline = f.outline([(0.0, 0.0), (0.40, 0.0), (0.45, 0.08), (0.45, 0.95), (0.30, 1.10), (0.0, 1.10)])
        # Turned into the upright: the outline's plane is x-z, its axis is z.
        solid = f.add("IfcRevolvedAreaSolid", SweptArea=outline, Position=f.place3((0, 0, 0), (0, -1, 0), (1, 0, 0)),
                      Axis=f.add("IfcAxis1Placement", Location=f.point(0, 0, 0), Axis=f.direction(0, 1, 0)),
                      Angle=2 * math.pi)
        f.colour([solid], "Tank", STEEL)
        return [solid], "AdvancedSweptSolid"

    def rack_items(self):
        """A shelf rack as triangles: two uprights and five shelves."""
        boxes = [(0, 0, 0, 0.05, 0.6, 2.2), (2.35, 0, 0, 2.4, 0.6, 2.2)]
        boxes += [(0.06, 0, 0.15 + 0.5 * k, 2.34, 0.6, 0.19 + 0.5 * k) for k in range(5)]
        items = []
        for x0, y0, z0, x1, y1, z1 in boxes:
            points = [(x, y, z) for z in (z0, z1) for y in (y0, y1) for x in (x0, x1)]
            faces = [(0, 2, 3), (0, 3, 1), (4, 5, 7), (4, 7, 6), (0, 1, 5), (0, 5, 4), (2, 6, 7), (2, 7, 3), (0, 4, 6),
                     (0, 6, 2), (1, 3, 7), (1, 7, 5)]
            items.append(self.f.triangulated(points, faces))
        self.f.colour(items, "Rack", (0.55, 0.60, 0.62))
        return items, "Tessellation"

    def furniture(self, storey, side, i, x0, y0, y1):
        y = y0 + 1.6 if side == "S" else y1 - 2.4
        for k in range(2):
            self.p.element("IfcFurniture", f"bench {storey} {side}{i}{k}", f"Lab bench {side}-{i + 1}{'ab'[k]}", storey,
                           [self.p.map("bench", self.bench_items)], "MappedRepresentation",
                           origin=(x0 + 1.6 + 2.0 * k, y, 0.0), type="Lab bench 1800", material="Laminate")
        if side == "N" and i in (1, 2):
            self.p.element("IfcFurniture", f"tank {storey} {i}", f"Cryo tank {i}", storey,
                           [self.p.map("tank", self.tank_items)], "MappedRepresentation",
                           origin=(x0 + 5.6, y0 + 1.2, 0.0), type="Cryo tank 900", material="Stainless steel")

    def ceilings(self, storey):
        half = b.PARTITION / 2
        for i in (0, 2, 3, 4, 5):
            north = b.CORE[1] if i == 3 else b.CORRIDOR_NORTH - half
            # The outer ceilings end before the bracing.
            x0 = 0.2 if i == 0 else b.XS[i] + 0.05
            x1 = b.XS[-1] - 0.2 if i == 5 else b.XS[i + 1] - 0.05
            if i == 3:
                x0, x1 = b.CORE[0], b.CORE[2]
            self.p.element("IfcCovering", f"ceiling {storey} {i}", f"Corridor ceiling {i + 1}", storey,
                           [self.f.box(x0, b.CORRIDOR_SOUTH + half, 2.70, x1, north, 2.72)], type="Ceiling tiles",
                           material="Mineral fibre", PredefinedType=Enum("CEILING"))

    def finish(self, storey):
        edge = b.EDGE if storey != "Cellar" else b.CELLAR_EDGE
        h = b.COLUMN / 2
        voids = [[(x - h, y - h), (x + h, y - h), (x + h, y + h), (x - h, y + h)] for x in b.XS for y in b.YS]
        x0, y0, x1, y1 = b.CORE
        voids.append([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
        if storey != "Cellar":
            x0, y0, x1, y1 = b.SHAFT
            voids.append([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
        x1, y1 = b.XS[-1] + edge, b.YS[-1] + edge
        profile = self.f.outline([(-edge, -edge), (x1, -edge), (x1, y1), (-edge, y1)], voids)
        self.p.element("IfcCovering", f"finish {storey}", f"Floor finish {storey}", storey,
                       [self.f.extrude(profile, b.FINISH, (0, 0, -b.FINISH))], type="Screed 80", material="Screed",
                       PredefinedType=Enum("FLOORING"))

    def core_fittings(self, storey):
        """Stair, lift car and the two core doors of a storey."""
        f = self.f
        rise = b.HEIGHT[b.ABOVE[storey]] - b.HEIGHT[storey]
        steps = 12 if rise > 4 else 10
        riser, tread = rise / 2 / steps, 0.27
        stair = self.p.element("IfcStair", f"stair {storey}", f"Stair {storey}", storey, None, type="Core stair",
                               PredefinedType=Enum("HALF_TURN_STAIR"))
        place, parts = self.p.last_placement, []
        run = tread * (steps - 1)

        def flight(key, name, x, y, z, sign):
            outline = [(0.0, 0.0)]
            for k in range(steps):
                outline += [(k * tread, (k + 1) * riser), ((k + 1) * tread if k < steps - 1 else k * tread + 0.05,
                                                           (k + 1) * riser)]
            end = outline[-1][0]
            outline += [(end, steps * riser - 0.20), (0.25, 0.0)]
            solid = f.extrude(f.outline(outline), 1.10, (x, y, z), (0, -sign, 0), (sign, 0, 0))
            e = self.p.element("IfcStairFlight", key, name, storey, [solid], parent=place, material="Precast concrete",
                               PredefinedType=Enum("STRAIGHT"), NumberOfRisers=steps, RiserHeight=riser, TreadLength=tread)
            self.p.storey_elements[storey].remove(e)
            parts.append(e)

        start = 23.35
        flight(f"flight {storey} 1", "Stair flight up 1", start + run, 9.97, 0.0, -1)
        flight(f"flight {storey} 2", "Stair flight up 2", start, 12.23, rise / 2, 1)
        landing = self.p.element("IfcSlab", f"landing {storey}", "Stair landing", storey,
                                 [f.box(22.47, 9.97, rise / 2 - 0.2, start - 0.06, 12.23, rise / 2)], parent=place,
                                 material="Precast concrete", PredefinedType=Enum("LANDING"))
        self.p.storey_elements[storey].remove(landing)
        parts.append(landing)
        self.p.relate("IfcRelAggregates", f"stair {storey}", RelatingObject=stair, RelatedObjects=parts)
        for number, x in ((1, 23.045), (2, 26.045)):
            self.p.element("IfcDoor", f"core door {storey} {number}", ("Stair door", "Lift door")[number - 1], storey,
                           [self.p.map("door", self.door_items)], "MappedRepresentation",
                           origin=(x, b.CORE[1] + b.CORE_WALL / 2, 0.0), type="Door 1010×2100", OverallHeight=2.1,
                           OverallWidth=1.01, material="Timber and glass")
        if storey == "Level 1":
            self.p.element("IfcTransportElement", "lift", "Lift car", storey,
                           [f.box(26.45, 10.1, 0.02, 27.85, 12.1, 2.32)], material="Steel",
                           PredefinedType=Enum("ELEVATOR"))

    def cellar(self):
        self.corridor_walls("Cellar", 2.75, 1.2, kind="Vault wall 150")
        half = b.PARTITION / 2
        south = (-b.CELLAR_EDGE, b.CORRIDOR_SOUTH - half)
        north = (b.CORRIDOR_NORTH + half, b.YS[-1] + b.CELLAR_EDGE)
        for i in range(1, 6):
            for side, (y0, y1) in (("S", south), ("N", north)):
                if side == "N" and i in (1, 2):
                    continue  # the plant room spans three bays
                x = b.XS[i] + 0.45
                self.wall("Cellar", f"cross Cellar {side}{i}", f"Vault wall {side}-{i + 1}", (x - half, y0, x + half, y1),
                          0.0, 2.75, "Vault wall 150", "Insulated panel", "EI 120")
        for i in range(6):
            x0 = -b.CELLAR_EDGE if i == 0 else b.XS[i] + 0.45 + half
            x1 = b.XS[-1] + b.CELLAR_EDGE if i == 5 else b.XS[i + 1] + 0.45 - half
            self.space("Cellar", f"vault S{i}", f"Cold vault {i + 1}", (x0, south[0], x1, south[1]), 2.7)
            for row in range(4):
                self.p.element("IfcFurniture", f"rack {i}{row}", f"Seed rack {i + 1}.{row + 1}", "Cellar",
                               [self.p.map("rack", self.rack_items)], "MappedRepresentation",
                               origin=(x0 + 1.4 + 2.5 * (row % 2), 1.2 + 2.4 * (row // 2), 0.0), type="Seed rack 2400",
                               material="Steel")
            if i >= 3:
                self.space("Cellar", f"vault N{i}", f"Cold vault {i + 4}", (x0, north[0], x1, north[1]), 2.7)
        self.space("Cellar", "plant", "Plant room", (-b.CELLAR_EDGE, north[0], b.XS[3] + 0.45 - half, north[1]), 2.7)

    def roof(self):
        f = self.f
        inner, outer = b.EDGE, b.EDGE + b.OUTER
        far_x, far_y = b.XS[-1], b.YS[-1]
        z0 = -b.FINISH - b.SLAB
        xs = [-outer] + b.XS[1:-1] + [far_x + outer]
        ys = [-inner] + b.YS[1:-1] + [far_y + inner]
        for i in range(6):
            for side, y0 in (("S", -outer), ("N", far_y + inner)):
                self.parapet(f"parapet {side}{i}", (xs[i], y0, xs[i + 1], y0 + b.OUTER), z0, (0, 1 if side == "S" else -1))
        for j in range(3):
            for side, x0 in (("W", -outer), ("E", far_x + inner)):
                self.parapet(f"parapet {side}{j}", (x0, ys[j], x0 + b.OUTER, ys[j + 1]), z0, (1 if side == "W" else -1, 0))
        x0, y0, x1, y1 = b.CORE
        profile = f.outline([(-inner, -inner), (far_x + inner, -inner), (far_x + inner, far_y + inner),
                             (-inner, far_y + inner)], [[(x0, y0), (x1, y0), (x1, y1), (x0, y1)]])
        solid = f.extrude(profile, b.FINISH, (0, 0, -b.FINISH))
        self.p.element("IfcCovering", "roof covering", "Roof covering", "Roof", [solid], type="Warm roof",
                       material="Insulation", PredefinedType=Enum("ROOFING"))
        self.penthouse(x0, y0, x1, y1)

    def parapet(self, key, rectangle, z0, inward):
        """A parapet whose top falls inwards: cut by a sloping half space."""
        f = self.f
        x0, y0, x1, y1 = rectangle
        w, d = x1 - x0, y1 - y0
        solid = f.extrude(f.rectangle(w, d, (w / 2, d / 2)), 1.2)
        slope = 0.08
        outer = (0 if inward[0] >= 0 else w, 0 if inward[1] >= 0 else d, 1.15)
        cut = f.add("IfcBooleanClippingResult", Operator=Enum("DIFFERENCE"), FirstOperand=solid,
                    SecondOperand=f.half_space(outer, (slope * inward[0], slope * inward[1], 1.0)))
        f.colour([cut], "Outer wall 365", RENDER)
        self.p.element("IfcWall", key, f"Parapet {key[8:]}", "Roof", [cut], "Clipping", origin=(x0, y0, z0),
                       type="Parapet 365", material="Masonry", PredefinedType=Enum("PARAPET"),
                       properties={"Pset_WallCommon": {"IsExternal": Value("IfcBoolean", True)}})

    def penthouse(self, x0, y0, x1, y1):
        """The stair head: four walls under a pitched roof, the gables cut by it."""
        f = self.f
        t, z0, eaves, pitch = 0.20, -b.FINISH, 2.6, 0.35
        ridge = (y0 + y1) / 2
        walls = {"S": (x0, y0, x1, y0 + t), "N": (x0, y1 - t, x1, y1), "W": (x0, y0 + t, x0 + t, y1 - t),
                 "E": (x1 - t, y0 + t, x1, y1 - t)}
        for side, (wx0, wy0, wx1, wy1) in walls.items():
            w, d = wx1 - wx0, wy1 - wy0
            height = eaves - z0 if side in "SN" else eaves - z0 + 1.2
            item, kind = f.extrude(f.rectangle(w, d, (w / 2, d / 2)), height), "SweptSolid"
            for sign in (1, -1):
                edge = y0 if sign == 1 else y1
                plane = f.half_space((0, edge - wy0, eaves - z0), (0.0, -sign * pitch, 1.0))
                item, kind = f.add("IfcBooleanClippingResult", Operator=Enum("DIFFERENCE"), FirstOperand=item,
                                   SecondOperand=plane), "Clipping"
            f.colour([item], "Outer wall 365", RENDER)
            self.p.element("IfcWall", f"penthouse {side}", f"Stair head wall {side}", "Roof", [item], kind,
                           origin=(wx0, wy0, z0), type="Outer wall 200", material="Masonry",
                           PredefinedType=Enum("SOLIDWALL"))
        for side, sign, edge in (("S", 1, y0), ("N", -1, y1)):
            run = abs(ridge - edge)
            low, high = (edge - sign * 0.4, eaves - 0.4 * pitch), (ridge, eaves + run * pitch)
            points = [(x, y, z + lift) for lift in (0, 0.18) for x in (x0 - 0.3, x1 + 0.3) for y, z in (low, high)]
            faces = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 2, 6, 4), (1, 5, 7, 3), (0, 4, 5, 1), (2, 3, 7, 6)]
            solid = f.brep(points, faces)
            f.colour([solid], "Roof sheet", (0.45, 0.42, 0.40))
            self.p.element("IfcSlab", f"pitched {side}", f"Pitched roof {side}", "Roof", [solid], "Brep",
                           type="Pitched roof 180", material="Timber", PredefinedType=Enum("ROOF"))

    def write(self, path):
        def kind(name):
            for word, entity in (("Window", "IfcWindowType"), ("Door", "IfcDoorType"), ("bench", "IfcFurnitureType"),
                                 ("tank", "IfcFurnitureType"), ("rack", "IfcFurnitureType"), ("roof 180", "IfcSlabType"),
                                 ("Screed", "IfcCoveringType"), ("Ceiling", "IfcCoveringType"),
                                 ("Warm", "IfcCoveringType"), ("stair", "IfcStairType")):
                if word in name:
                    return entity
            return "IfcWallType"
        self.p.finish(path, kind)


def key_guid(key):
    return guid(f"Architecture {key}")
