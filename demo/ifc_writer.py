"""Writes IFC files by attribute name, checked against the schema fact tables."""
import hashlib
import json
import math
import pathlib

SCHEMAS = pathlib.Path(__file__).resolve().parent.parent / "src/core/ifc/schema"
ALPHABET = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$"


def guid(name):
    """The GlobalId that always belongs to this name."""
    number = int.from_bytes(hashlib.md5(name.encode()).digest(), "big")
    return "".join(ALPHABET[(number >> shift) & 63] for shift in range(126, -1, -6))


class Ref(int):
    """The number of an entity."""


class Enum(str):
    """An enumeration item."""


class Typed:
    """A value with its type's keyword, as selects are written."""

    def __init__(self, kind, value):
        self.kind, self.value = kind, value


def text(value):
    """One argument as ISO 10303-21 has it."""
    if value is None:
        return "$"
    if value == "*" and not isinstance(value, Enum):
        return "*"
    if isinstance(value, bool):
        return ".T." if value else ".F."
    if isinstance(value, Ref):
        return f"#{int(value)}"
    if isinstance(value, Enum):
        return f".{value}."
    if isinstance(value, Typed):
        return f"{value.kind.upper()}({text(value.value)})"
    if isinstance(value, int):
        return str(value)
    if isinstance(value, float):
        plain = repr(round(value, 12) + 0.0)
        if "e" in plain:
            mantissa, power = plain.split("e")
            return f"{mantissa if '.' in mantissa else mantissa + '.'}E{power}"
        return plain[:-1] if plain.endswith(".0") else plain
    if isinstance(value, str):
        plain = "".join(c if 31 < ord(c) < 127 else f"\\X2\\{ord(c):04X}\\X0\\" for c in value)
        return "'" + plain.replace("'", "''") + "'"
    return "(" + ",".join(text(v) for v in value) + ")"


class IfcFile:
    """One file being written. Lengths given in metres come out in the file's unit."""

    def __init__(self, schema, scale, first_id=1, step=1):
        tables = json.loads((SCHEMAS / f"{schema}.json").read_text())
        self.schema, self.entities = schema, tables["entities"]
        self.scale = scale  # units of the file in a metre
        self.lines, self.next_id, self.step = [], first_id, step
        self.known = {}

    def attributes(self, entity):
        row = self.entities[entity]
        inherited = self.attributes(row["parent"]) if row["parent"] else ([], set())
        return (inherited[0] + [a[0] for a in row["attributes"]], inherited[1] | set(row.get("derived", [])))

    def add(self, entity, **values):
        names, derived = self.attributes(entity)
        unknown = set(values) - set(names)
        if unknown:
            raise ValueError(f"{self.schema} {entity} has no {sorted(unknown)}")
        arguments = ["*" if n in derived else text(values.get(n)) for n in names]
        ref = Ref(self.next_id)
        self.next_id += self.step
        self.lines.append(f"#{int(ref)}={entity.upper()}({','.join(arguments)});")
        return ref

    def once(self, entity, **values):
        """The same entity with the same values is written once."""
        key = (entity, repr(sorted((k, text(v)) for k, v in values.items())))
        if key not in self.known:
            self.known[key] = self.add(entity, **values)
        return self.known[key]

    def m(self, metres):
        return float(metres) * self.scale

    # geometry
    def point(self, *xyz):
        return self.once("IfcCartesianPoint", Coordinates=[self.m(v) for v in xyz])

    def direction(self, *xyz):
        return self.once("IfcDirection", DirectionRatios=[float(v) for v in xyz])

    def place3(self, origin=(0, 0, 0), axis=None, ref=None):
        return self.once("IfcAxis2Placement3D", Location=self.point(*origin),
                         Axis=self.direction(*axis) if axis else None,
                         RefDirection=self.direction(*ref) if ref else None)

    def place2(self, origin=(0, 0), ref=None):
        return self.once("IfcAxis2Placement2D", Location=self.point(*origin),
                         RefDirection=self.direction(*ref) if ref else None)

    def local(self, parent, origin=(0, 0, 0), axis=None, ref=None):
        return self.add("IfcLocalPlacement", PlacementRelTo=parent, RelativePlacement=self.place3(origin, axis, ref))

    def polyline(self, points, closed=True):
        refs = [self.point(*p) for p in points]
        return self.add("IfcPolyline", Points=refs + refs[:1] if closed else refs)

    def rectangle(self, x, y, centre=(0, 0)):
        return self.add("IfcRectangleProfileDef", ProfileType=Enum("AREA"), Position=self.place2(centre),
                        XDim=self.m(x), YDim=self.m(y))

    def circle(self, radius, wall=None):
        common = {"ProfileType": Enum("AREA"), "Position": self.place2(), "Radius": self.m(radius)}
        if wall:
            return self.add("IfcCircleHollowProfileDef", WallThickness=self.m(wall), **common)
        return self.add("IfcCircleProfileDef", **common)

    def i_shape(self, name, width, depth, web, flange, fillet):
        return self.once("IfcIShapeProfileDef", ProfileType=Enum("AREA"), ProfileName=name, Position=self.place2(),
                         OverallWidth=self.m(width), OverallDepth=self.m(depth), WebThickness=self.m(web),
                         FlangeThickness=self.m(flange), FilletRadius=self.m(fillet))

    def outline(self, points, voids=()):
        outer = self.polyline(points)
        if not voids:
            return self.add("IfcArbitraryClosedProfileDef", ProfileType=Enum("AREA"), OuterCurve=outer)
        return self.add("IfcArbitraryProfileDefWithVoids", ProfileType=Enum("AREA"), OuterCurve=outer,
                        InnerCurves=[self.polyline(v) for v in voids])

    def extrude(self, profile, depth, origin=(0, 0, 0), axis=None, ref=None):
        return self.add("IfcExtrudedAreaSolid", SweptArea=profile, Position=self.place3(origin, axis, ref),
                        ExtrudedDirection=self.direction(0, 0, 1), Depth=self.m(depth))

    def box(self, x0, y0, z0, x1, y1, z1):
        return self.extrude(self.rectangle(x1 - x0, y1 - y0), z1 - z0, ((x0 + x1) / 2, (y0 + y1) / 2, z0))

    def brep(self, points, faces):
        refs = [self.point(*p) for p in points]
        shell = self.add("IfcClosedShell", CfsFaces=[
            self.add("IfcFace", Bounds=[self.add("IfcFaceOuterBound", Orientation=True, Bound=self.add(
                "IfcPolyLoop", Polygon=[refs[i] for i in face]))]) for face in faces])
        return self.add("IfcFacetedBrep", Outer=shell)

    def triangulated(self, points, triangles):
        coordinates = self.add("IfcCartesianPointList3D", CoordList=[[self.m(v) for v in p] for p in points])
        return self.add("IfcTriangulatedFaceSet", Coordinates=coordinates, Closed=True,
                        CoordIndex=[[i + 1 for i in t] for t in triangles])

    def half_space(self, origin, normal, agreement=False):
        plane = self.add("IfcPlane", Position=self.place3(origin, normal, perpendicular(normal)))
        return self.add("IfcHalfSpaceSolid", BaseSurface=plane, AgreementFlag=agreement)

    def colour(self, items, name, rgb, transparency=0.0):
        style = self.known.get(("style", name))
        if style is None:
            surface = self.add("IfcColourRgb", Red=rgb[0], Green=rgb[1], Blue=rgb[2])
            rendering = self.add("IfcSurfaceStyleRendering", SurfaceColour=surface, Transparency=transparency,
                                 ReflectanceMethod=Enum("NOTDEFINED"))
            style = self.add("IfcSurfaceStyle", Name=name, Side=Enum("BOTH"), Styles=[rendering])
            if self.schema == "IFC2X3":
                style = self.add("IfcPresentationStyleAssignment", Styles=[style])
            self.known[("style", name)] = style
        for item in items:
            self.add("IfcStyledItem", Item=item, Styles=[style])

    def write(self, path, name, author, organisation, time, system):
        header = ["ISO-10303-21;", "HEADER;", "FILE_DESCRIPTION(('ViewDefinition [CoordinationView]'),'2;1');",
                  f"FILE_NAME({text(name)},{text(time)},({text(author)}),({text(organisation)}),"
                  f"'made-up sample data',{text(system)},'');",
                  f"FILE_SCHEMA(('{self.schema}'));", "ENDSEC;", "DATA;"]
        path.write_text("\n".join(header + self.lines + ["ENDSEC;", "END-ISO-10303-21;", ""]))


def perpendicular(normal):
    x, y, z = normal
    other = (0, 0, 1) if abs(z) < 0.9 * math.sqrt(x * x + y * y + z * z) else (1, 0, 0)
    return (y * other[2] - z * other[1], z * other[0] - x * other[2], x * other[1] - y * other[0])
