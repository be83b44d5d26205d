"""The list of issues the demo's coordinator sent out, and what the ventilation team sent back: BCF 2.1."""
import math
import struct
import uuid
import zipfile
import zlib
from xml.sax.saxutils import escape

import building as b
from ifc_writer import guid

NAMESPACE = uuid.UUID("6d616272-6f77-4669-656c-640000000001")
XML = '<?xml version="1.0" encoding="UTF-8"?>\n'
SENT, BACK = "MSS-issues-W46.bcf", "MSS-issues-W47-VLW.bcf"
INES, SOFIE = "Ines Varga", "Sofie Brandt"
VENTILATION = guid("Ventilation project")  # in whose coordinates the viewpoints are


def named(name):
    """The GUID that always belongs to this name."""
    return str(uuid.uuid5(NAMESPACE, name))


def picture(colour):
    """A small plain PNG, for those who only look at the list."""
    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    rows = (b"\0" + bytes(colour) * 60) * 40
    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", 60, 40, 8, 2, 0, 0, 0)) + chunk(b"IDAT", zlib.compress(rows, 9)) + chunk(b"IEND", b""))


def as_delivered(point, fit):
    """A place of the reference's frame in the file a fit brings there; and the same of a direction without its shift."""
    turn = -math.radians(fit["rotationDegrees"])
    x, y, z = (p - t for p, t in zip(point, fit["translation"]))
    return (x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn), z)


def vector(name, v):
    return f"<{name}><X>{v[0]:.9g}</X><Y>{v[1]:.9g}</Y><Z>{v[2]:.9g}</Z></{name}>"


def viewpoint(guid, point, elements, fit, cut=None):
    """Looks at a place from above and aside; the first element is of the file in whose coordinates it is."""
    away = (-4.0, -5.0, 3.0)
    eye = as_delivered(tuple(p + a for p, a in zip(point, away)), fit)
    at = as_delivered(point, fit)
    along = tuple(a - e for a, e in zip(at, eye))
    length = math.sqrt(sum(c * c for c in along))
    along = tuple(c / length for c in along)
    flat = math.hypot(along[0], along[1])
    up = (-along[0] * along[2] / flat, -along[1] * along[2] / flat, flat)
    components = "".join(f'<Component IfcGuid="{e}"/>' for e in elements)
    planes = f"<ClippingPlanes><ClippingPlane>{vector('Location', as_delivered(cut, fit))}{vector('Direction', (0, 0, 1))}</ClippingPlane></ClippingPlanes>" if cut else ""
    return (XML + f'<VisualizationInfo Guid="{guid}"><Components><ViewSetupHints SpacesVisible="false" SpaceBoundariesVisible="false" OpeningsVisible="false"/>'
            f'<Selection>{components}</Selection><Visibility DefaultVisibility="true"/></Components><PerspectiveCamera>{vector("CameraViewPoint", eye)}'
            f'{vector("CameraDirection", along)}{vector("CameraUpVector", up)}<FieldOfView>50</FieldOfView></PerspectiveCamera>{planes}</VisualizationInfo>')


def comment(guid, date, author, text, view=None, modified=None):
    edit = f"<ModifiedDate>{modified}</ModifiedDate><ModifiedAuthor>{author}</ModifiedAuthor>" if modified else ""
    seen = f'<Viewpoint Guid="{view}"/>' if view else ""
    return f'<Comment Guid="{guid}"><Date>{date}</Date><Author>{author}</Author><Comment>{escape(text)}</Comment>{seen}{edit}</Comment>'


def topic(name, title, status, priority, assignee, due, description, comments, views, modified, more="", author=INES, created="2026-11-10T09:15:00Z", kind="Clash"):
    guid = named(name)
    shown = "".join(f'<Viewpoints Guid="{v}"><Viewpoint>{v}.bcfv</Viewpoint><Snapshot>{v}.png</Snapshot><Index>{i}</Index></Viewpoints>' for i, v in enumerate(views))
    against = f'<Header><File IfcProject="{VENTILATION}" isExternal="true"><Filename>MSS-VLW-VEN-P01.ifc</Filename><Date>2026-10-15T14:10:00Z</Date></File></Header>'
    return (XML + f'<Markup>{against}<Topic Guid="{guid}" TopicType="{kind}" TopicStatus="{status}"><Title>{escape(title)}</Title><Priority>{priority}</Priority>'
            f"<Labels>Week 46</Labels><CreationDate>{created}</CreationDate><CreationAuthor>{author}</CreationAuthor><ModifiedDate>{modified[0]}</ModifiedDate>"
            f"<ModifiedAuthor>{modified[1]}</ModifiedAuthor><DueDate>{due}</DueDate><AssignedTo>{assignee}</AssignedTo><Stage>Design coordination</Stage>"
            f"<Description>{escape(description)}</Description>{more}</Topic>{''.join(comments)}{shown}</Markup>")


def write(path, files):
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(files):
            entry = zipfile.ZipInfo(name, (2026, 11, 24, 8, 0, 0))
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, files[name])


def write_all(folder, beams, main, wall, branch, column, column_branch, places):
    """@param places  of the three clashes, in the reference's frame"""
    fit = b.true_fit(b.VENTILATION_SHIFT)
    head = {"bcf.version": XML + '<Version VersionId="2.1"><DetailedVersion>2.1</DetailedVersion></Version>',
            "project.bcfp": XML + '<ProjectExtension><Project ProjectId="marrowfield"><Name>Marrowfield Seed Store</Name></Project><ExtensionSchema></ExtensionSchema></ProjectExtension>'}
    v1, v2, v3, v4 = (named(f"viewpoint {n}") for n in "1234")
    views = {("beams", v1): viewpoint(v1, places[0], [main, *beams], fit, tuple(p + d for p, d in zip(places[0], (0, 0, 0.6)))),
             ("wall", v2): viewpoint(v2, places[1], [branch, wall], fit), ("column", v3): viewpoint(v3, places[2], [column_branch, column], fit)}
    due, description = "2026-11-24T00:00:00Z", "The supply main runs 120 mm too high under three beams of Level 3."
    question = comment(named("comment 1"), "2026-11-10T09:20:00Z", INES, "Can the main go 150 mm lower between axes 4 and 6?", v1)
    sent = dict(head)
    sent[f"{named('beams')}/markup.bcf"] = topic("beams", "Supply main meets three beams", "Open", "High", "Ventilation", due, description, [question], [v1], ("2026-11-10T09:20:00Z", INES))
    wall_text = "The branch to the laboratories passes the core wall without an opening."
    sent[f"{named('wall')}/markup.bcf"] = topic("wall", "Opening missing in the core wall", "Open", "High", "Structure", due, wall_text, [], [v2], ("2026-11-10T09:30:00Z", INES))
    column_text = "The branch cuts 50 mm into a column of Level 3."
    answer = comment(named("comment 2"), "2026-11-12T15:40:00Z", SOFIE, "We look at it.", v3)
    sent[f"{named('column')}/markup.bcf"] = topic("column", "Branch cuts a column", "In progress", "Normal", "Ventilation", due, column_text, [answer], [v3], ("2026-11-12T15:40:00Z", SOFIE))
    for (name, view), text in views.items():
        sent[f"{named(name)}/{view}.bcfv"] = text
        sent[f"{named(name)}/{view}.png"] = picture((200, 167, 104))
    write(folder / SENT, sent)
    # What came back: done, an edited comment, one more comment, a new topic, and a note of their own program.
    back = dict(sent)
    lowered = comment(named("comment 3"), "2026-11-23T14:05:00+01:00", SOFIE, "Lowered by 150 mm in P02.", v1)
    back[f"{named('beams')}/markup.bcf"] = topic("beams", "Supply main meets three beams", "Done by assignee", "High", "Ventilation", due, description, [question, lowered], [v1],
                                                 ("2026-11-23T14:05:00+01:00", SOFIE), "<Effort unit=\"hours\">6</Effort>")
    edited = comment(named("comment 2"), "2026-11-12T15:40:00Z", SOFIE, "The branch goes round the column, 400 mm to the south.", v3, "2026-11-23T14:20:00+01:00")
    back[f"{named('column')}/markup.bcf"] = topic("column", "Branch cuts a column", "Done by assignee", "Normal", "Ventilation", "2026-11-27T00:00:00Z", column_text, [edited], [v3],
                                                  ("2026-11-23T14:20:00+01:00", SOFIE))
    fresh = named("riser")
    riser = tuple(p + d for p, d in zip(places[1], (0.5, 0, 0)))
    back[f"{fresh}/markup.bcf"] = topic("riser", "No room for the fire damper at the core wall", "Open", "High", "Architecture", "2026-12-01T00:00:00Z",
                                        "The damper needs 300 mm on the corridor side; the ceiling leaves 240 mm.",
                                        [comment(named("comment 4"), "2026-11-23T14:30:00+01:00", SOFIE, "May the ceiling go 60 mm lower here?", v4)], [v4],
                                        ("2026-11-23T14:30:00+01:00", SOFIE), "", SOFIE, "2026-11-23T14:28:00+01:00", "Request")
    back[f"{fresh}/{v4}.bcfv"] = viewpoint(v4, riser, [branch], fit)
    back[f"{fresh}/{v4}.png"] = picture((116, 167, 155))
    write(folder / BACK, back)
