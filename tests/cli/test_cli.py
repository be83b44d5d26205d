#!/usr/bin/env python3
"""The command line's contract: JSON keys, values against the demo's truth, exit codes.

usage: test_cli.py WENDRIX-CLI
"""
import json
import pathlib
import subprocess
import sys
import tempfile
import zipfile
from xml.etree import ElementTree

CLI = sys.argv[1]
DEMO = pathlib.Path(__file__).resolve().parent.parent.parent / "demo"
DATA = DEMO / "data"
ARC, STR1, STR2 = (str(DATA / n) for n in ("MSS-QMA-ARC-P01.ifc", "MSS-TBF-STR-P01.ifc", "MSS-TBF-STR-P02.ifc"))
truth = json.loads((DEMO / "truth.json").read_text())
results = []


def call(*words):
    return subprocess.run([CLI, *words], capture_output=True, text=True)


def check(name, holds):
    results.append(bool(holds))
    print(("PASS " if holds else "FAIL ") + name)


def answer(*words):
    result = call(*words)
    return json.loads(result.stdout) if result.returncode == 0 else {}


# Bytes that are no UTF-8 are replaced, and that is said.
with tempfile.TemporaryDirectory() as folder:
    broken = pathlib.Path(folder) / "broken.ifc"
    text = pathlib.Path(ARC).read_bytes()
    at = text.index(b"=IFCWALL(") + 1  # the name of a class, which nobody decodes
    broken.write_bytes(text[:at] + b"IFC\xff\xfeWALL" + text[at + 7:])
    result = subprocess.run([CLI, "inspect", "--no-geometry", str(broken)], capture_output=True)
    check("inspect: bytes that are no UTF-8", result.returncode == 0 and len(json.loads(result.stdout.decode("utf-8"))["elements"]) > 100
          and b"not UTF-8" in result.stderr and "\ufffd" in result.stdout.decode("utf-8"))
    sent = pathlib.Path(folder) / "sent.bcf"
    topic = "11111111-2222-3333-4444-555555555555"
    with zipfile.ZipFile(sent, "w") as archive:
        archive.writestr("bcf.version", '<?xml version="1.0"?><Version VersionId="2.1"/>')
        archive.writestr(f"{topic}/markup.bcf", b'<?xml version="1.0"?><Markup><Topic Guid="' + topic.encode() + b'" TopicType="Clash" TopicStatus="Open">'
                         b"<Title>Duct \xff\xfe through beam</Title><CreationDate>2026-11-02T08:00:00Z</CreationDate><CreationAuthor>A</CreationAuthor></Topic></Markup>")
    result = subprocess.run([CLI, "bcf", "list", str(sent)], capture_output=True)
    check("bcf list: bytes that are no UTF-8", result.returncode == 0 and "\ufffd" in json.loads(result.stdout.decode("utf-8"))["topics"][0]["title"]
          and b"not UTF-8" in result.stderr)

# BCF: converted, held against the standard, and two sides brought together.
def bcf(path, status="Open", title="Duct meets beam", more="", comments=(), version="2.1"):
    topic = "11111111-2222-3333-4444-555555555555"
    noted = "".join(f'<Comment Guid="{guid}"><Date>2026-11-02T09:00:00Z</Date><Author>A</Author><Comment>{text}</Comment></Comment>' for guid, text in comments)
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("bcf.version", f'<?xml version="1.0"?><Version VersionId="{version}"/>')
        archive.writestr(f"{topic}/markup.bcf", f'<?xml version="1.0"?><Markup><Topic Guid="{topic}" TopicType="Clash" TopicStatus="{status}"><Title>{title}</Title>'
                         f"<CreationDate>2026-11-02T08:00:00Z</CreationDate><CreationAuthor>A</CreationAuthor>{more}</Topic>{noted}</Markup>")
        archive.writestr("team.json", "{}")
    return str(path)


with tempfile.TemporaryDirectory() as folder:
    at = pathlib.Path(folder)
    first, second = "aaaaaaaa-0000-0000-0000-000000000001", "aaaaaaaa-0000-0000-0000-000000000002"
    base = bcf(at / "base.bcf", comments=[(first, "Lower it?")])
    result = call("bcf", "convert", base, str(at / "new.bcf"), "--version", "3.0")
    check("bcf convert", result.returncode == 0 and answer("bcf", "check", str(at / "new.bcf")) == {"version": "3.0", "topics": 1, "problems": []})
    check("bcf convert: what nobody knows is kept", "team.json" in zipfile.ZipFile(at / "new.bcf").namelist())
    result = call("bcf", "convert", str(at / "new.bcf"), str(at / "old.bcf"), "--version", "2.1")
    listed = answer("bcf", "list", str(at / "old.bcf"))
    check("bcf convert: there and back", result.returncode == 0 and listed["topics"][0]["comments"][0]["text"] == "Lower it?" and listed["problems"] == [])
    check("bcf convert: another version is no word of the call", call("bcf", "convert", base, str(at / "x.bcf"), "--version", "1.0").returncode == 2)
    check("bcf convert: nowhere to write", call("bcf", "convert", base, str(at / "none" / "x.bcf"), "--version", "3.0").returncode == 4)
    ours = bcf(at / "ours.bcf", status="In progress", comments=[(first, "Lower it?")])
    theirs = bcf(at / "theirs.bcf", status="Closed", title="Duct under beam", more="<AssignedTo>B</AssignedTo>", comments=[(first, "Lower it, please?"), (second, "Done")])
    result = call("bcf", "merge", ours, theirs, str(at / "out.bcf"), "--base", base)
    told = json.loads(result.stdout)
    check("bcf merge: a conflict", result.returncode == 1 and told["added"] == [] and told["joined"] == ["11111111-2222-3333-4444-555555555555"]
          and [(c["field"], c["base"], c["ours"], c["theirs"]) for c in told["conflicts"]] == [("TopicStatus", "Open", "In progress", "Closed")])
    out = answer("bcf", "list", str(at / "out.bcf"))["topics"][0]
    check("bcf merge: both sides", out["status"] == "In progress" and out["title"] == "Duct under beam" and out["assignedTo"] == "B"
          and [c["text"] for c in out["comments"]] == ["Lower it, please?", "Done"])
    result = call("bcf", "merge", base, base, str(at / "same.bcf"), "--base", base)
    check("bcf merge: nothing to decide", result.returncode == 0 and json.loads(result.stdout) == {"added": [], "joined": [], "conflicts": []})
    result = call("bcf", "merge", ours, theirs, str(at / "blind.bcf"))
    check("bcf merge: without a base every difference is a conflict", result.returncode == 1 and {c["field"] for c in json.loads(result.stdout)["conflicts"]} >= {"TopicStatus", "Title", "AssignedTo", "Comment"})
    damaged = bcf(at / "damaged.bcf", status="Open", more="<Priority>x</Priority><Extra/>")
    result = call("bcf", "check", damaged)
    check("bcf check: problems with their entries", result.returncode == 1 and all(p["entry"].endswith("markup.bcf") for p in json.loads(result.stdout)["problems"]))

check("--version", call("--version").stdout.startswith("wendrix-cli ") and call("--version").returncode == 0)
for words in (["--help"], ["inspect", "--help"], ["mesh", "--help"], ["align", "--help"], ["clash", "--help"], ["run", "--help"], ["compare", "--help"],
              ["bcf", "--help"], ["bcf", "list", "--help"], ["bcf", "check", "--help"], ["bcf", "convert", "--help"], ["bcf", "merge", "--help"]):
    lines = call(*words).stdout.splitlines()
    bare = [line for line in lines if line.startswith("  ") and len(line.split("  ")) > 1 and line.strip().split(" ")[0].isupper() and len(line.split()) < 3]
    bare += [line for line in lines if line.startswith("  -") and len(line.split("   ")[-1].split()) < 2]
    check(f"{' '.join(words)}: every option has its line", lines and not bare)

j = answer("inspect", ARC)
check("inspect: keys", set(j) == {"file", "schema", "lengthUnit", "elements", "storeys", "grids", "georeference", "diagnostics"})
check("inspect: element keys", set(j["elements"][0]) == {"guid", "class", "name", "storey", "system", "type", "material",
                                                         "volume", "area", "closed", "triangles", "bounds"})
check("inspect: georeference", j["georeference"]["crs"] == "EPSG:25832" and j["georeference"]["eastings"] == 431208.4
      and abs(j["georeference"]["rotationDegrees"] - 3) < 1e-6)
check("inspect: every body of the demo is closed", all(e["closed"] for e in j["elements"]) and not [d for d in j["diagnostics"] if d["severity"] != "note"])
check("inspect: storeys", [s["elevation"] for s in j["storeys"]] == [-3.6, 0.0, 4.2, 8.4, 12.6])
fast = answer("inspect", ARC, "--no-geometry")
check("inspect --no-geometry", len(fast["elements"]) == len(j["elements"]) and fast["elements"][0]["volume"] is None)

for discipline, file in (("Structure", STR1), ("Ventilation", str(DATA / "MSS-VLW-VEN-P02.ifc"))):
    a, t = answer("align", ARC, file, "--method", "grids"), truth["fits"][discipline]
    check(f"align {discipline}", all(abs(x - y) < 1e-4 for x, y in zip(a["translation"], t["translation"]))
          and abs(a["rotationDegrees"] - t["rotationDegrees"]) < 1e-3 and a["scale"] == 1 and len(a["residuals"]) == 28)

for file, faults in truth["coordinates"].items():
    before = truth["before"].get(file)
    d = answer("align", ARC, DATA / file, "--diagnose", *(["--previous", DATA / before] if before else []))
    told = {c["kind"]: c["measure"] for c in d["causes"] if c["confidence"] >= 0.5}
    check(f"align: the demo's faults of {file}", set(told) == {f["kind"] for f in faults} and d["aligned"] == (not faults))
    for f in faults:
        for name, value in f.items():
            if name != "kind":
                told_value = told.get(f["kind"], {}).get(name)
                check(f"align: {file} {f['kind']} {name}",
                      told_value == value or (isinstance(value, float) and isinstance(told_value, (int, float)) and abs(told_value - value) < 1e-3))
d, t = answer("align", ARC, STR1, "--diagnose"), truth["fits"]["Structure"]
kinds = {cause["kind"]: cause for cause in d["causes"]}
check("align --diagnose: keys", set(d) == {"aligned", "causes", "contradictions", "fit"} and set(d["causes"][0]) == {"kind", "confidence", "sentence", "remedy", "measure"}
      and set(d["fit"]) == {"translation", "rotationDegrees", "scale", "rms"})
check("align --diagnose: what is wrong", not d["aligned"] and abs(kinds["turned"]["measure"]["degrees"] - t["rotationDegrees"]) < 1e-3
      and abs(kinds["height-offset"]["measure"]["metres"] + t["translation"][2]) < 1e-6 and "conversion-missing" in kinds
      and all(abs(x - y) < 1e-4 for x, y in zip(d["fit"]["translation"], t["translation"])))
check("align --diagnose: a file with itself", answer("align", ARC, ARC, "--diagnose") ==
      {"aligned": True, "causes": [], "contradictions": [], "fit": {"translation": [0.0, 0.0, 0.0], "rotationDegrees": 0.0, "scale": 1.0, "rms": 0.0}})
s = answer("align", ARC, STR1, "--method", "storeys")
check("align --method storeys", abs(s["translation"][2] - t["translation"][2]) < 1e-6 and len(s["residuals"]) == 5)
v = answer("align", ARC, STR1, "--method", "values", "--values", ",".join(str(x) for x in [*t["translation"], t["rotationDegrees"], 1]))
check("align --method values", v["rms"] < 1e-4 and len(v["residuals"]) == 33)
check("align --method georeference: not declared", call("align", ARC, STR1, "--method", "georeference").returncode == 1)
check("align --method pattern: in two ways", call("align", ARC, STR1, "--method", "pattern").returncode == 1)
with tempfile.TemporaryDirectory() as scratch:
    pairs = pathlib.Path(scratch) / "pairs.json"
    places = [{"moving": [0, 0, 0], "reference": [10, 5, 1]}, {"moving": [4, 0, 0], "reference": [10, 9, 1]}, {"moving": [4, 3, 0], "reference": [7, 9, 1], "weight": 2}]
    pairs.write_text(json.dumps(places))
    a = answer("align", ARC, STR1, "--method", "points", "--points", str(pairs))
    check("align --method points", abs(a["rotationDegrees"] - 90) < 1e-9 and all(abs(x - y) < 1e-9 for x, y in zip(a["translation"], [10, 5, 1]))
          and len(a["residuals"]) == 3)
    target = pathlib.Path(scratch) / "corrected.ifc"
    w = call("align", ARC, STR1, "--method", "grids", "--write", str(target))
    again = answer("align", ARC, str(target), "--method", "grids")
    check("align --write: needs no fit", w.returncode == 0 and again["rms"] < 1e-4 and all(abs(x) < 1e-4 for x in again["translation"]))
    declared = answer("align", ARC, str(target), "--method", "georeference")
    check("align --write: declares what the reference declares", all(abs(x) < 1e-9 for x in declared["translation"]) and abs(declared["rotationDegrees"]) < 1e-9)
    check("align --write: aligned", answer("align", ARC, str(target), "--diagnose")["aligned"])
    check("align --write: never the sender's file", call("align", ARC, str(target), "--method", "grids", "--write", str(target)).returncode == 4)
    for name, text in (("no JSON", "{"), ("no list", "{}"), ("a pair without its place", '[{"moving": [0, 0, 0]}]'), ("two numbers", '[{"moving": [0, 0], "reference": [1, 2, 3]}]')):
        pairs.write_text(text)
        r = call("align", ARC, STR1, "--method", "points", "--points", str(pairs))
        check(f"align --points: {name}", r.returncode == 3 and "pairs.json" in r.stderr)
    pairs.write_text("[]")
    check("align --points: none", call("align", ARC, STR1, "--method", "points", "--points", str(pairs)).returncode == 1)
for words in ([], ["--method", "guess"], ["--method", "points"], ["--method", "values"], ["--method", "values", "--values", "1,2,3"],
              ["--method", "values", "--values", "0,0,0,0,0"], ["--method", "grids", "--diagnose"], ["--diagnose", "--write", "x.ifc"]):
    check(f"align {' '.join(words)}: the words are off", call("align", ARC, STR1, *words).returncode == 2)

c = answer("compare", STR1, STR2)
check("compare: added and removed", set(c["added"]) == set(truth["changes"]["Structure"]["added"])
      and set(c["removed"]) == set(truth["changes"]["Structure"]["removed"]))
moved = {x["guid"]: x["shift"] for x in c["changed"] if "place" in x["what"]}
check("compare: moved", all(max(abs(a - b) for a, b in zip(moved[m["guid"]], m["shift"])) < 1e-6
                            for m in truth["changes"]["Structure"]["moved"]))

k = answer("clash", "--left", STR1, "--right", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--tolerance", "0.005")
check("clash: keys", set(k) == {"clashes", "ignored", "notTested", "pairsTested", "elapsedSeconds"})
check("clash: rules that are left out", [i["rule"] for i in k["ignored"]] == ["openings", "connected", "assembly", "covering", "hosted"])
check("clash: far apart before any alignment", k["clashes"] == [])
ducts = answer("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--tolerance", "0.005", "--left-filter", "class is DuctSegment and name has supply", "--right-filter", "not class is DuctSegment")
check("clash: only what the rules pick", ducts["pairsTested"] < answer("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--tolerance", "0.005")["pairsTested"])
off = call("clash", "--left", STR1, "--left-filter", "class is Wall and walls")
check("clash: a rule that is wrong says where", off.returncode == 2 and "at sign 19" in off.stderr and "in quotes" in off.stderr)
apart = answer("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--kind", "clearance", "--clearance", "0.05", "--direction", "up")
check("clash: clearances have a distance and no depth", all(x["kind"] == "clearance" and x["depth"] == 0 and x["distance"] < 0.05 for x in apart["clashes"]))
twice = answer("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--kind", "duplicate", "--ignore", "none")
check("clash: doubles", len(twice["clashes"]) > 0 and all(x["kind"] == "duplicate" for x in twice["clashes"]))
check("clash: a rule that fails a build", call("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--kind", "duplicate", "--ignore", "none", "--fail-on", "clashes>0").returncode == 1
      and call("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--kind", "duplicate", "--ignore", "none", "--fail-on", "clashes > 1000").returncode == 0)
check("clash: no such rule", all(call("clash", "--left", STR1, "--fail-on", rule).returncode == 2 for rule in ("clashes", "ducts>0", "clashes>many", "clashes>", ">0")))
with tempfile.TemporaryDirectory() as folder:
    report = pathlib.Path(folder) / "out.xml"
    call("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--kind", "duplicate", "--ignore", "none", "--junit", str(report))
    suite = ElementTree.parse(report).getroot()
    check("clash: a report for build servers", suite.get("tests") == "1" and suite.get("failures") == "1"
          and len(suite.find("testcase/failure").text.strip().splitlines()) == len(twice["clashes"]))
    check("clash: a report that can not be written", call("clash", "--left", STR1, "--junit", folder + "/none/out.xml").returncode == 4)
check("clash: a rule to leave out that there is not", call("clash", "--left", STR1, "--ignore", "ducts").returncode == 2)
self_test = answer("clash", "--left", str(DATA / "MSS-VLW-VEN-P01.ifc"), "--tolerance", "0.005")
check("clash: itself, each pair once", all(x["left"] != x["right"] for x in self_test["clashes"])
      and len({frozenset((x["left"], x["right"])) for x in self_test["clashes"]}) == len(self_test["clashes"]))

with tempfile.TemporaryDirectory() as scratch:
    obj = pathlib.Path(scratch) / "out.obj"
    check("mesh: exit code", call("mesh", ARC, "--obj", str(obj)).returncode == 0)
    check("mesh: an object an element", sum(line.startswith("o ") for line in obj.read_text().splitlines()) == len(j["elements"]))
    check("mesh: unwritable", call("mesh", ARC, "--obj", "/nowhere/out.obj").returncode == 4)
    broken = pathlib.Path(scratch) / "broken.ifc"
    for name, content, words in (("truncated", pathlib.Path(ARC).read_bytes()[:20000], "ends in the middle"),
                                 ("not IFC", b"GIF89a", "not a STEP file"), ("empty", b"", "empty")):
        broken.write_bytes(content)
        r = call("inspect", str(broken))
        check(f"{name} file", r.returncode == 3 and words in r.stderr and "broken.ifc" in r.stderr and r.stdout == "")
    check("missing file", call("inspect", scratch + "/none.ifc").returncode == 3)
    check("no BCF", call("bcf", "list", str(broken)).returncode == 3)
    check("clash: no project there", call("clash", scratch).returncode == 3)
check("clash: neither project nor file", call("clash").returncode == 2)
check("unknown call", call("fly").returncode == 2)
check("missing words", call("align", ARC).returncode == 2)
check("help", call("--help").returncode == 0)
print(f"{sum(results)} passed, {len(results) - sum(results)} failed")
sys.exit(0 if all(results) else 1)
