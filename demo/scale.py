#!/usr/bin/env python3
"""Writes the services of an ever larger seed store, to measure reading and building with.

usage: scale.py --elements N [--architecture] [--changed-each K] [--renewed] OUT.ifc

Pipes, ducts, elbows (mapped shapes) and fabricated transitions (each a faceted body of its own), about 1.5 kB an
element, as an exporter writes them: own profile, placement, property set, quantities and ports for each.
With --changed-each K it is a later revision: of every K-th element one in four is raised by 60 mm, lengthened by
120 mm (turned where it has no length), given another remark, or gone. With --renewed every GlobalId is another one.
With --architecture walls with openings, windows, doors and slabs instead (scale_architecture.py).
The same N always gives the same bytes.
"""
import argparse
import math

import scale_architecture
from ifc_writer import guid

PER_STOREY = 5000
BATCH = 2000
SYSTEMS = ["Vault cooling", "Laboratory supply", "Laboratory extract", "Chilled water", "Fire water", "Drainage"]
PIPE_RADII = [25.0, 40.0, 54.0, 76.1, 108.0, 159.0]
DUCT_SIZES = [(200.0, 150.0), (300.0, 200.0), (400.0, 300.0), (600.0, 400.0), (800.0, 500.0)]
ELBOWS = 8

HEAD = """ISO-10303-21;
HEADER;
FILE_DESCRIPTION(('ViewDefinition [CoordinationView]'),'2;1');
FILE_NAME('{name}','2026-10-01T08:00:00',('Tomas Adair'),('Vellowind'),'scale.py','scale.py','');
FILE_SCHEMA(('IFC4'));
ENDSEC;
DATA;
#1=IFCPROJECT('{project}',$,'Marrowfield Seed Store',$,$,$,$,(#3),#2);
#2=IFCUNITASSIGNMENT((#6,#7,#8,#9));
#3=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#11,$);
#6=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);
#7=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);
#8=IFCSIUNIT(*,.AREAUNIT.,$,.SQUARE_METRE.);
#9=IFCSIUNIT(*,.VOLUMEUNIT.,$,.CUBIC_METRE.);
#10=IFCCARTESIANPOINT((0.,0.,0.));
#11=IFCAXIS2PLACEMENT3D(#10,$,$);
#12=IFCLOCALPLACEMENT($,#11);
#13=IFCSITE('{site}',$,'Site',$,$,#12,$,$,.ELEMENT.,$,$,$,$,$);
#14=IFCBUILDING('{building}',$,'Seed store',$,$,#12,$,$,.ELEMENT.,$,$,$);
#15=IFCRELAGGREGATES('{r1}',$,$,$,#1,(#13));
#16=IFCRELAGGREGATES('{r2}',$,$,$,#13,(#14));
#17=IFCDIRECTION((0.,0.,1.));
#18=IFCDIRECTION((1.,0.,0.));
#19=IFCDIRECTION((0.,1.,0.));
"""


class Writer:
    def __init__(self, file):
        self.file, self.next, self.lines = file, 20, []

    def add(self, text):
        number = self.next
        self.next += 1
        self.lines.append(f"#{number}={text};\n")
        return number

    def flush(self):
        self.file.write("".join(self.lines))
        self.lines = []


def refs(numbers):
    return "(" + ",".join(f"#{n}" for n in numbers) + ")"


def elbow_map(w, radius):
    """A quarter bend as a swept area turned about its axis, shared by every elbow of its type."""
    profile = w.add(f"IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,{radius},{radius * 0.08:.4f})")
    at = w.add(f"IFCCARTESIANPOINT(({-1.5 * radius},0.,0.))")
    axis = w.add(f"IFCAXIS1PLACEMENT(#{at},#19)")
    solid = w.add(f"IFCREVOLVEDAREASOLID(#{profile},#11,#{axis},1.5707963267949)")
    shape = w.add(f"IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#{solid}))")
    return w.add(f"IFCREPRESENTATIONMAP(#11,#{shape})")


def extrusion(w, profile, length):
    solid = w.add(f"IFCEXTRUDEDAREASOLID(#{profile},#11,#17,{length:.3f})")
    return w.add(f"IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#{solid}))")


def transition(w, i):
    """A frustum from one duct size to another, with lengths of its own."""
    (a, b), (c, d) = DUCT_SIZES[i % 5], DUCT_SIZES[(i + 2) % 5]
    h = 300.0 + i % 9973 * 0.05
    corners = [(-a / 2, -b / 2, 0.0), (a / 2, -b / 2, 0.0), (a / 2, b / 2, 0.0), (-a / 2, b / 2, 0.0),
               (-c / 2, -d / 2, h), (c / 2, -d / 2, h), (c / 2, d / 2, h), (-c / 2, d / 2, h)]
    points = [w.add(f"IFCCARTESIANPOINT(({x},{y},{z}))") for x, y, z in corners]
    faces = []
    for loop in ((3, 2, 1, 0), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7)):
        poly = w.add(f"IFCPOLYLOOP({refs(points[k] for k in loop)})")
        bound = w.add(f"IFCFACEOUTERBOUND(#{poly},.T.)")
        faces.append(w.add(f"IFCFACE((#{bound}))"))
    shell = w.add(f"IFCCLOSEDSHELL({refs(faces)})")
    solid = w.add(f"IFCFACETEDBREP(#{shell})")
    return w.add(f"IFCSHAPEREPRESENTATION(#3,'Body','Brep',(#{solid}))")


class Revision:
    """What of an element is another than in the first one."""

    def __init__(self, changed_each=0, is_renewed=False):
        self.changed_each, self.is_renewed = changed_each, is_renewed

    def change(self, i):
        if self.changed_each == 0 or i % self.changed_each != self.changed_each - 1:
            return None
        return ("raised", "lengthened", "redescribed", "removed")[i // self.changed_each % 4]


def element(w, i, storey_placement, maps, revision):
    """One element; returns its number."""
    change = revision.change(i)
    row, along = divmod(i % PER_STOREY, 100)
    x, y, z = 3000.0 * along, 1200.0 * row, 2400.0 + 400.0 * (i % 4) + (60.0 if change == "raised" else 0.0)
    kind = i % 20
    length = 1500.0 + (i * 37) % 1400 + (120.0 if change == "lengthened" else 0.0)
    if kind < 9:
        radius = PIPE_RADII[i % 6]
        body = extrusion(w, w.add(f"IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,'Pipe {radius}',$,{radius},{radius * 0.08:.4f})"), length)
        word, entity, size = "Pipe", "IFCPIPESEGMENT", f"DN{int(radius * 2)}"
    elif kind < 14:
        a, b = DUCT_SIZES[i % 5]
        body = extrusion(w, w.add(f"IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,'Duct {a} x {b}',$,{a},{b},1.2,$,$)"), length)
        word, entity, size = "Duct", "IFCDUCTSEGMENT", f"{int(a)}x{int(b)}"
    elif kind < 18:
        operator = w.add("IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#10,1.,$)")
        item = w.add(f"IFCMAPPEDITEM(#{maps[i % ELBOWS]},#{operator})")
        body = w.add(f"IFCSHAPEREPRESENTATION(#3,'Body','MappedRepresentation',(#{item}))")
        word, entity, size = "Elbow", "IFCPIPEFITTING", f"R{i % ELBOWS}"
    else:
        body = transition(w, i)
        word, entity, size = "Transition", "IFCDUCTFITTING", f"T{i % 5}"
    point = w.add(f"IFCCARTESIANPOINT(({x},{y},{z}))")
    frame = w.add(f"IFCAXIS2PLACEMENT3D(#{point},#18,#{17 if change == 'lengthened' and kind >= 14 else 19})")
    placement = w.add(f"IFCLOCALPLACEMENT(#{storey_placement},#{frame})")
    shape = w.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,(#{body}))")
    own_guid = guid(f"scale {i} renewed" if revision.is_renewed else f"scale {i}")
    remark = f"Hung from the slab above, see drawing M-{i // 100:05d}" + (" rev. B" if change == "redescribed" else "")
    product = w.add(f"{entity}('{own_guid}',$,'{word} {i}',$,'{word} {size}',#{placement},#{shape},'{i:07d}',$)")
    values = [w.add(f"IFCPROPERTYSINGLEVALUE('Size',$,IFCLABEL('{size}'),$)"),
              w.add(f"IFCPROPERTYSINGLEVALUE('Length',$,IFCPOSITIVELENGTHMEASURE({length}),$)"),
              w.add(f"IFCPROPERTYSINGLEVALUE('Insulated',$,IFCBOOLEAN({'.T.' if i % 3 else '.F.'}),$)"),
              w.add(f"IFCPROPERTYSINGLEVALUE('Commissioning zone',$,IFCIDENTIFIER('Z{i // 500:04d}'),$)"),
              w.add(f"IFCPROPERTYSINGLEVALUE('Remark',$,IFCTEXT('{remark}'),$)")]
    pset = w.add(f"IFCPROPERTYSET('{guid(f'set {i}')}',$,'Marrowfield_Services',$,{refs(values)})")
    w.add(f"IFCRELDEFINESBYPROPERTIES('{guid(f'defines {i}')}',$,$,$,(#{product}),#{pset})")
    if word in ("Pipe", "Duct"):
        for end in (0, 1):
            port_at = w.add(f"IFCCARTESIANPOINT((0.,0.,{end * length:.1f}))")
            port_frame = w.add(f"IFCAXIS2PLACEMENT3D(#{port_at},$,$)")
            port_place = w.add(f"IFCLOCALPLACEMENT(#{placement},#{port_frame})")
            port = w.add(f"IFCDISTRIBUTIONPORT('{guid(f'port {i} {end}')}',$,'Port {end}',$,$,#{port_place},$,.NOTDEFINED.,$,$)")
            w.add(f"IFCRELNESTS('{guid(f'nests {i} {end}')}',$,$,$,#{product},(#{port}))")
    return product


def write(path, count, is_architecture=False, revision=Revision()):
    with open(path, "w") as file:
        file.write(HEAD.format(name=path, **{k: guid(f"scale {k}") for k in ("project", "site", "building", "r1", "r2")}))
        w = Writer(file)
        maps = [elbow_map(w, 30.0 + 15.0 * k) for k in range(ELBOWS)]
        groups = {name: [] for name in SYSTEMS}
        storeys = []
        for s in range(math.ceil(count / PER_STOREY)):
            at = w.add(f"IFCCARTESIANPOINT((0.,0.,{4000.0 * s}))")
            placement = w.add(f"IFCLOCALPLACEMENT(#12,#{w.add(f'IFCAXIS2PLACEMENT3D(#{at},$,$)')})")
            storey = w.add(f"IFCBUILDINGSTOREY('{guid(f'storey {s}')}',$,'Level {s}',$,$,#{placement},$,$,.ELEMENT.,{4000.0 * s})")
            storeys.append(storey)
            members = []
            numbers = range(s * PER_STOREY, min(count, (s + 1) * PER_STOREY))
            for first in numbers[::scale_architecture.GROUP] if is_architecture else ():
                members += scale_architecture.group(w, first, min(scale_architecture.GROUP, numbers.stop - first), placement)
                w.flush()
            for i in numbers if not is_architecture else ():
                if revision.change(i) == "removed":
                    continue
                members.append(element(w, i, placement, maps, revision))
                groups[SYSTEMS[i // 700 % len(SYSTEMS)]].append(members[-1])
                if i % BATCH == 0:
                    w.flush()
            w.add(f"IFCRELCONTAINEDINSPATIALSTRUCTURE('{guid(f'contains {s}')}',$,$,$,{refs(members)},#{storey})")
        w.add(f"IFCRELAGGREGATES('{guid('aggregates storeys')}',$,$,$,#14,{refs(storeys)})")
        for name, members in groups.items():
            if members:
                system = w.add(f"IFCDISTRIBUTIONSYSTEM('{guid(f'system {name}')}',$,'{name}',$,$,$,$)")
                w.add(f"IFCRELASSIGNSTOGROUP('{guid(f'assigns {name}')}',$,$,$,{refs(members)},$,#{system})")
        w.flush()
        file.write("ENDSEC;\nEND-ISO-10303-21;\n")


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--elements", type=int, required=True)
    parser.add_argument("--architecture", action="store_true")
    parser.add_argument("out")
    parser.add_argument("--changed-each", type=int, default=0)
    parser.add_argument("--renewed", action="store_true")
    arguments = parser.parse_args()
    write(arguments.out, arguments.elements, arguments.architecture, Revision(arguments.changed_each, arguments.renewed))
