"""Walls with windows and doors, slabs with shafts: the elements of a large architectural model, for scale.py.

Each wall has its own length, so that next to nothing is shared; its ends are mitred as exporters write them; it has one to
three openings, cut all the way through, and each opening is filled by a window or a door of its own frame and pane.
"""
from ifc_writer import guid

PER_STOREY = 5000
GROUP = 10  # elements that belong together: walls with what fills their openings, and a slab


def box(w, context, x, y, z, along, deep, high):
    """A rectangle extruded upwards from (x, y, z), as a representation."""
    centre = w.add(f"IFCCARTESIANPOINT(({x + along / 2:.2f},{y + deep / 2:.2f}))")
    at = w.add(f"IFCAXIS2PLACEMENT2D(#{centre},$)")
    profile = w.add(f"IFCRECTANGLEPROFILEDEF(.AREA.,$,#{at},{along:.2f},{deep:.2f})")
    origin = w.add(f"IFCCARTESIANPOINT((0.,0.,{z:.2f}))")
    place = w.add(f"IFCAXIS2PLACEMENT3D(#{origin},$,$)")
    solid = w.add(f"IFCEXTRUDEDAREASOLID(#{profile},#{place},#17,{high:.2f})")
    return w.add(f"IFCSHAPEREPRESENTATION(#{context},'Body','SweptSolid',(#{solid}))")


def mitred(w, context, along, deep, high):
    """A wall whose ends are cut at 45 degrees."""
    corners = [(0, 0), (along, 0), (along - deep, deep), (deep, deep), (0, 0)]
    points = ",".join(f"#{w.add(f'IFCCARTESIANPOINT(({x:.2f},{y:.2f}))')}" for x, y in corners)
    line = w.add(f"IFCPOLYLINE(({points}))")
    profile = w.add(f"IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#{line})")
    solid = w.add(f"IFCEXTRUDEDAREASOLID(#{profile},#11,#17,{high:.2f})")
    return w.add(f"IFCSHAPEREPRESENTATION(#{context},'Body','SweptSolid',(#{solid}))")


def placed(w, relative_to, x, y, z):
    at = w.add(f"IFCCARTESIANPOINT(({x:.2f},{y:.2f},{z:.2f}))")
    return w.add(f"IFCLOCALPLACEMENT(#{relative_to},#{w.add(f'IFCAXIS2PLACEMENT3D(#{at},$,$)')})")


def product(w, entity, i, name, placement, body, more=""):
    shape = w.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,(#{body}))")
    return w.add(f"{entity}('{guid(f'scale {i}')}',$,'{name} {i}',$,$,#{placement},#{shape},'{i:07d}'{more})")


def opened(w, host, host_placement, key, x, z, wide, high, deep):
    """An opening through a wall; returns it with its placement."""
    placement = placed(w, host_placement, x, -50.0, z)
    body = box(w, 3, 0, 0, 0, wide, deep + 100.0, high)
    shape = w.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,(#{body}))")
    opening = w.add(f"IFCOPENINGELEMENT('{guid(f'opening {key}')}',$,'Opening',$,$,#{placement},#{shape},$,.OPENING.)")
    w.add(f"IFCRELVOIDSELEMENT('{guid(f'voids {key}')}',$,$,$,#{host},#{opening})")
    return opening, placement


def frame_and_pane(w, wide, high):
    outer = [(0, 0), (wide, 0), (wide, high), (0, high), (0, 0)]
    inner = [(60, 60), (wide - 60, 60), (wide - 60, high - 60), (60, high - 60), (60, 60)]
    lines = []
    for ring in (outer, inner):
        points = ",".join(f"#{w.add(f'IFCCARTESIANPOINT(({x:.2f},{y:.2f}))')}" for x, y in ring)
        lines.append(w.add(f"IFCPOLYLINE(({points}))"))
    profile = w.add(f"IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#{lines[0]},(#{lines[1]}))")
    at = w.add("IFCCARTESIANPOINT((0.,170.,0.))")
    upright = w.add(f"IFCAXIS2PLACEMENT3D(#{at},#{w.add('IFCDIRECTION((0.,-1.,0.))')},#18)")
    frame = w.add(f"IFCEXTRUDEDAREASOLID(#{profile},#{upright},#17,70.)")
    pane_profile = w.add(f"IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#{lines[1]})")
    pane = w.add(f"IFCEXTRUDEDAREASOLID(#{pane_profile},#{upright},#17,24.)")
    return w.add(f"IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#{frame},#{pane}))")


def group(w, first, count, storey_placement):
    """Up to GROUP elements from number `first` on; returns them."""
    made = []
    row, along = divmod(first % PER_STOREY // GROUP, 25)
    x, y = 16000.0 * along, 9000.0 * row
    i, end = first, first + count

    def slab():
        placement = placed(w, storey_placement, x, y, -300.0)
        made.append(product(w, "IFCSLAB", i, "Slab", placement, box(w, 3, 0, 0, 0, 15000.0, 8000.0 + i % 977, 300.0), ",.FLOOR."))
        shaft = placed(w, placement, 2000.0, 1500.0, -100.0)
        shape = w.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,(#{box(w, 3, 0, 0, 0, 1200.0, 800.0, 500.0)}))")
        opening = w.add(f"IFCOPENINGELEMENT('{guid(f'shaft {i}')}',$,'Shaft',$,$,#{shaft},#{shape},$,.OPENING.)")
        w.add(f"IFCRELVOIDSELEMENT('{guid(f'voids shaft {i}')}',$,$,$,#{made[-1]},#{opening})")

    slab()
    i += 1
    wall_number = 0
    while i < end:
        deep = 300.0 if wall_number % 2 == 0 else 240.0
        long = 7000.0 + i * 37 % 4001
        placement = placed(w, storey_placement, x + 200.0, y + 2500.0 * wall_number, 0.0)
        wall = product(w, "IFCWALLSTANDARDCASE", i, "Wall", placement, mitred(w, 3, long, deep, 3000.0), ",.STANDARD.")
        made.append(wall)
        i += 1
        for k in range(2 if wall_number % 2 == 0 else 1):
            is_door = wall_number % 2 == 1
            wide, high = (1010.0, 2135.0) if is_door else (1200.0 + i * 13 % 701, 1350.0)
            opening, at = opened(w, wall, placement, f"{i} {k}", 900.0 + 2600.0 * k, 0.0 if is_door else 850.0, wide, high, deep)
            if i < end:
                body = frame_and_pane(w, wide, high)
                entity, more = ("IFCDOOR", f",{high},{wide},.DOOR.,$,$") if is_door else ("IFCWINDOW", f",{high},{wide},.WINDOW.,$,$")
                filled = product(w, entity, i, "Door" if is_door else "Window", at, body, more)
                w.add(f"IFCRELFILLSELEMENT('{guid(f'fills {i}')}',$,$,$,#{opening},#{filled})")
                made.append(filled)
                i += 1
        wall_number += 1
    return made
