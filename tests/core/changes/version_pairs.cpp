#include "core/changes/version_pairs.h"

#include <algorithm>

namespace wendrix::test {

using Box = MadeModel::Box;
using Written = MadeModel::Written;

namespace {

const std::pair<Written, const char*> kWays[] = {{Written::Swept, "swept"},
                                                 {Written::Faceted, "faceted"},
                                                 {Written::Triangles, "as triangles"},
                                                 {Written::OtherTriangles, "as other triangles"},
                                                 {Written::InBuildingsFrame, "in the building's frame"}};

Box& box(MadeModel& m, const std::string& name)
{
    return *std::find_if(m.boxes.begin(), m.boxes.end(), [&](const Box& b) { return b.name == name; });
}
void shift(Box& b, Vector3 by)
{
    b.low = b.low + by;
    b.high = b.high + by;
}
void write(MadeModel& m, Written how)
{
    for (Box& b : m.boxes)
        b.written = how;
}
void renewAll(MadeModel& m)
{
    for (Box& b : m.boxes)
        b.guid = MadeModel::guidOf("renewed " + b.name);
}
void inMillimetres(MadeModel& m)
{
    m.metresPerUnit = 0.001;
    m.unit = "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";
}

/// Collects pairs that begin with the small building.
class Pairs {
public:
    using Edit = std::function<void(MadeModel&)>;
    VersionPair& add(const std::string& name, const Edit& edit, Ledger wanted = {})
    {
        VersionPair pair{name, smallBuilding(), smallBuilding(), std::move(wanted)};
        edit(pair.after);
        all_.push_back(std::move(pair));
        return all_.back();
    }
    /// Nothing but this element changed.
    VersionPair& one(const std::string& name, const std::string& element, const std::function<void(Box&)>& edit,
                     Ledger wanted = {})
    {
        return add(
            name, [&](MadeModel& m) { edit(box(m, element)); }, std::move(wanted));
    }
    std::vector<VersionPair> all_;
};

void noise(Pairs& p)
{
    p.add("nothing", [](MadeModel&) {});
    p.add("renumbered", [](MadeModel& m) { m.firstNumber = 7001; });
    p.add("in another order", [](MadeModel& m) { std::reverse(m.boxes.begin(), m.boxes.end()); });
    p.add("owner histories", [](MadeModel& m) { m.hasOwners = true; });
    VersionPair& stamped = p.add("later time stamps", [](MadeModel& m) {
        m.hasOwners = true;
        m.ownedAt = 1750000000;
    });
    stamped.before.hasOwners = true;
    p.add("in millimetres", inMillimetres);
    for (const auto& [prefix, factor] : {std::pair(".CENTI.", 0.01), std::pair(".DECI.", 0.1)})
        p.add(std::string("in the unit ") + prefix, [&](MadeModel& m) {
            m.metresPerUnit = factor;
            m.unit = std::string("IFCSIUNIT(*,.LENGTHUNIT.,") + prefix + ",.METRE.)";
        });
    for (const auto& [from, was] : kWays)
        for (const auto& [to, now] : kWays)
            if (from != to)
                write(p.add(std::string(was) + ", then " + now, [&](MadeModel& m) { write(m, to); }).before, from);
    p.add("other grids", [](MadeModel& m) { m.gridSpacing = 7; });
    p.add("from another origin, fitted", [](MadeModel& m) { m.shift = {400, -250, 12}; });
    p.add("from another origin and turned, fitted", [](MadeModel& m) {
        m.shift = {40, -25, 12};
        m.turnedDegrees = 31;
    });
    p.add("everything another way at once", [](MadeModel& m) {
        inMillimetres(m);
        write(m, Written::OtherTriangles);
        m.firstNumber = 5;
        m.firstNumber = 90001;
        m.hasOwners = true;
        std::reverse(m.boxes.begin(), m.boxes.end());
    });
    p.one("a square column turned by a quarter", "Column", [](Box& b) { b.turnedDegrees = 90; });
    p.one("a wall turned by a half", "Wall", [](Box& b) { b.turnedDegrees = 180; });
    p.one("0.4 mm aside", "Wall", [](Box& b) { shift(b, {0.0004, 0, 0}); });
    p.one("0.3 mm longer", "Wall", [](Box& b) { b.high.x += 0.0003; });
}

void motions(Pairs& p)
{
    const auto moved = [&](const std::string& name, const std::string& element, Vector3 by, double degrees = 0) {
        p.one(name, element,
              [&](Box& b) {
                  shift(b, by);
                  b.turnedDegrees += degrees;
              },
              {ledger::moved(element, by, degrees)});
    };
    moved("2 mm aside", "Wall", {0.002, 0, 0});
    moved("5 mm aside", "Wall", {0, 0.005, 0});
    moved("2 m up", "Column", {0, 0, 2});
    moved("60 mm down", "Duct", {0, 0, -0.06});
    moved("far away", "Wall", {300, 200, 0});
    moved("along all axes", "Pipe", {0.25, -0.1, 0.03});
    moved("turned by 30 degrees", "Wall", {}, 30);
    moved("turned the other way", "Wall", {}, -30);
    moved("turned by one degree", "Beam", {}, 1);
    moved("turned by a quarter", "Wall", {}, 90);
    moved("turned by a quarter the other way", "Wall", {}, -90);
    moved("turned and moved", "Beam", {1, 2, 0}, 17);
    p.add("moved in a file of millimetres",
          [](MadeModel& m) {
              inMillimetres(m);
              shift(box(m, "Wall"), {0, 0.3, 0});
          },
          {ledger::moved("Wall", {0, 0.3, 0})});
    for (const auto& [way, words] : kWays)
        p.add(std::string("moved, written ") + words,
              [&](MadeModel& m) {
                  write(m, way);
                  shift(box(m, "Wall"), {0.12, 0, 0});
              },
              {ledger::moved("Wall", {0.12, 0, 0})});
    for (const auto& [way, words] : kWays)
        p.add(std::string("turned, written ") + words,
              [&](MadeModel& m) {
                  write(m, way);
                  box(m, "Beam").turnedDegrees = 20;
              },
              {ledger::moved("Beam", {}, 20)});
    p.add("moved in a file from another origin, fitted",
          [](MadeModel& m) {
              m.shift = {40, -25, 0};
              m.turnedDegrees = 31;
              shift(box(m, "Pipe"), {0, 0, 0.25});
          },
          {ledger::moved("Pipe", {0, 0, 0.25})});
    Ledger all;
    for (const Box& b : smallBuilding().boxes)
        all.insert(ledger::moved(b.name, {0, 0, 0.05}));
    p.add(
        "everything 50 mm up",
        [](MadeModel& m) {
            for (Box& b : m.boxes)
                shift(b, {0, 0, 0.05});
        },
        all);
}

void shapes(Pairs& p)
{
    const auto reshaped = [&](const std::string& name, const std::string& element, Vector3 low, Vector3 high,
                              double more, double less, const std::string& extents) {
        p.one(name, element,
              [&](Box& b) {
                  b.low = b.low + low;
                  b.high = b.high + high;
              },
              {ledger::reshaped(element, more, less)})
            .extents = extents;
    };
    reshaped("a wall thicker to both sides", "Wall", {0, -0.05, 0}, {0, 0.05, 0}, 6 * 0.1 * 3, 0, "100 mm thicker");
    reshaped("a wall half as high", "Wall", {}, {0, 0, -1.5}, 0, 6 * 0.3 * 1.5, "1.50 m lower");
    reshaped("a wall higher", "Wall", {}, {0, 0, 0.5}, 6 * 0.3 * 0.5, 0, "500 mm higher");
    reshaped("a wall longer both ways", "Wall", {-0.5, 0, 0}, {0.5, 0, 0}, 0.3 * 3, 0, "1.00 m longer");
    reshaped("a wall shorter and higher", "Wall", {0.1, 0, 0}, {-0.1, 0, 0.3}, 5.8 * 0.3 * 0.3, 0.2 * 0.3 * 3,
             "200 mm shorter, 300 mm higher");
    reshaped("a column narrower and longer", "Column", {0.06, 0.06, 0}, {-0.06, -0.06, 0.3}, 0.28 * 0.28 * 0.3,
             (0.16 - 0.28 * 0.28) * 3, "120 mm narrower both ways, 300 mm longer");
    reshaped("a column narrower one way", "Column", {0.06, 0, 0}, {-0.06, 0, 0}, 0, 0.12 * 0.4 * 3, "120 mm narrower");
    reshaped("a slab thinner from above", "Slab", {}, {0, 0, -0.05}, 0, 6 * 6 * 0.05, "50 mm thinner");
    reshaped("a duct deeper", "Duct", {}, {0, 0, 0.1}, 4 * 0.4 * 0.1, 0, "100 mm deeper");
    reshaped("a duct wider and shallower", "Duct", {0, -0.1, 0}, {0, 0.1, -0.1}, 4 * 0.2 * 0.2, 4 * 0.4 * 0.1,
             "100 mm shallower, 200 mm wider");
    reshaped("a beam longer at both ends", "Beam", {-1, 0, 0}, {1, 0, 0}, 2 * 0.3 * 0.4, 0, "2.00 m longer");
    p.one("longer at one end, half of it moved on", "Wall",
          [](Box& b) {
              b.low.x += 2;
              b.high.x += 4;
          },
          {ledger::moved("Wall", {3, 0, 0}), ledger::reshaped("Wall", 4 * 0.3 * 3, 2 * 0.3 * 3)})
        .extents = "2.00 m longer";
    p.one("another size elsewhere", "Pipe",
          [](Box& b) {
              shift(b, {0, 30, 0});
              b.low.x -= 0.5;
              b.high.x += 0.5;
          },
          {ledger::moved("Pipe", {0, 30, 0}), ledger::reshaped("Pipe", 5 * 0.01, 4 * 0.01)})
        .extents = "1.00 m longer";
    p.add("reshaped where every body is written in the building's frame",
          [](MadeModel& m) {
              write(m, Written::InBuildingsFrame);
              box(m, "Wall").high.z += 0.5;
          },
          {ledger::reshaped("Wall", 6 * 0.3 * 0.5, 0)})
        .extents = "500 mm higher";
    p.add("reshaped in a turned file, fitted",
          [](MadeModel& m) {
              m.turnedDegrees = 31;
              box(m, "Column").high.z += 0.2;
          },
          {ledger::reshaped("Column", 0.16 * 0.2, 0)})
        .extents = "200 mm longer";
}

void descriptions(Pairs& p)
{
    p.one("a property's value", "Wall", [](Box& b) { b.properties[0].second = "EI 60"; },
          {ledger::redescribed("Wall", "Seed store.Fire rating", "EI 30", "EI 60")});
    p.one("a property more", "Duct", [](Box& b) { b.properties.emplace_back("Insulated", "yes"); },
          {ledger::redescribed("Duct", "Seed store.Insulated", "", "yes")});
    p.one("a property less", "Wall", [](Box& b) { b.properties.pop_back(); },
          {ledger::redescribed("Wall", "Seed store.Mark", "01", "")});
    p.one("a mark that is no number", "Wall", [](Box& b) { b.properties[1].second = "1"; },
          {ledger::redescribed("Wall", "Seed store.Mark", "01", "1")});
    p.one("a tag", "Beam", [](Box& b) { b.tag = "B-7"; }, {ledger::redescribed("Beam", "Tag", "B-1", "B-7")});
    p.one("a type", "Beam", [](Box& b) { b.type = "IPE 400"; },
          {ledger::redescribed("Beam", "Type", "IPE 300", "IPE 400")});
    p.one("a predefined type", "Column", [](Box& b) { b.predefined = "PILASTER"; },
          {ledger::redescribed("Column", "PredefinedType", "", "PILASTER")});
    p.one("a class", "Pipe", [](Box& b) { b.ifcClass = "IFCPIPEFITTING"; },
          {ledger::redescribed("Pipe", "Class", "IfcPipeSegment", "IfcPipeFitting")});
    p.one("a name", "Pipe",
          [](Box& b) {
              b.guid = MadeModel::guidOf("Pipe");
              b.name = "Pipe to vault 2";
          },
          {ledger::redescribed("Pipe to vault 2", "Name", "Pipe", "Pipe to vault 2")});
    p.one("into the next storey", "Duct",
          [](Box& b) {
              shift(b, {0, 0, 3.6});
          },
          {ledger::moved("Duct", {0, 0, 3.6}), ledger::redescribed("Duct", "Storey", "Level 1", "Level 2")});
    p.one(
        "moved and given another value", "Wall",
        [](Box& b) {
            shift(b, {0, 0.1, 0});
            b.properties[0].second = "EI 60";
        },
        {ledger::moved("Wall", {0, 0.1, 0}), ledger::redescribed("Wall", "Seed store.Fire rating", "EI 30", "EI 60")});
    p.one("reshaped and of another type", "Beam",
          [](Box& b) {
              b.low.z -= 0.1;
              b.type = "IPE 400";
          },
          {ledger::reshaped("Beam", 8 * 0.3 * 0.1, 0), ledger::redescribed("Beam", "Type", "IPE 300", "IPE 400")})
        .extents = "100 mm deeper";
    p.add(
        "a storey renamed", [](MadeModel& m) { m.storeys[0].first = "Ground"; },
        [] {
            Ledger all;
            for (const Box& b : smallBuilding().boxes)
                if (b.low.z < 3.6)
                    all.insert(ledger::redescribed(b.name, "Storey", "Level 1", "Ground"));
            return all;
        }());
}

void comings(Pairs& p)
{
    p.add("one more",
          [](MadeModel& m) {
              m.boxes.push_back({"Bench", {20, 0, 0}, {21, 0.4, 0.5}, "IFCFURNITURE"});
          },
          {ledger::added("Bench")});
    p.add("one less", [](MadeModel& m) { m.boxes.erase(m.boxes.begin() + 2); }, {ledger::removed("Duct")});
    p.add("one for another of another class at one place",
          [](MadeModel& m) {
              Box& b = box(m, "Pipe");
              b.name = "Conduit";
              b.tag = "";
              b.ifcClass = "IFCCABLECARRIERSEGMENT";
          },
          {ledger::removed("Pipe"), ledger::added("Conduit")});
    p.add("one for another of the same class elsewhere",
          [](MadeModel& m) {
              Box& b = box(m, "Duct");
              shift(b, {0, 9, 0});
              b.high.x += 1;
              b.name = "Another duct";
              b.tag = "D-9";
          },
          {ledger::removed("Duct"), ledger::added("Another duct")});
}

void renewed(Pairs& p)
{
    const auto anew = [](Box& b) { b.guid = MadeModel::guidOf("renewed " + b.name); };
    p.one("an id", "Wall", anew, {ledger::renewed("Wall")});
    Ledger all;
    for (const Box& b : smallBuilding().boxes)
        all.insert(ledger::renewed(b.name));
    p.add("all ids", renewAll, all);
    for (const auto& [way, words] : kWays)
        p.add(
            std::string("all ids, written ") + words,
            [&](MadeModel& m) {
                renewAll(m);
                write(m, way);
            },
            all);
    p.add(
        "all ids, in millimetres and another order",
        [](MadeModel& m) {
            renewAll(m);
            inMillimetres(m);
            std::reverse(m.boxes.begin(), m.boxes.end());
        },
        all);
    p.add(
        "all ids, from another origin, fitted",
        [](MadeModel& m) {
            renewAll(m);
            m.shift = {40, -25, 12};
            m.turnedDegrees = 31;
        },
        all);
    p.one("an id, and moved by a metre", "Duct",
          [&](Box& b) {
              anew(b);
              shift(b, {0, 1, 0});
          },
          {ledger::renewed("Duct"), ledger::moved("Duct", {0, 1, 0})});
    p.one("an id, and turned", "Beam",
          [&](Box& b) {
              anew(b);
              b.turnedDegrees = 25;
          },
          {ledger::renewed("Beam"), ledger::moved("Beam", {}, 25)});
    p.one("an id, and reshaped", "Column",
          [&](Box& b) {
              anew(b);
              b.high.z += 0.3;
          },
          {ledger::renewed("Column"), ledger::reshaped("Column", 0.16 * 0.3, 0)});
    p.one("an id and a value", "Wall",
          [&](Box& b) {
              anew(b);
              b.properties[0].second = "EI 60";
          },
          {ledger::renewed("Wall"), ledger::redescribed("Wall", "Seed store.Fire rating", "EI 30", "EI 60")});
    p.one("an id, a name and a tag", "Pipe",
          [&](Box& b) {
              anew(b);
              b.name = "Pipe to vault 2";
              b.tag = "P-9";
          },
          {ledger::renewed("Pipe to vault 2"),
           ledger::redescribed("Pipe to vault 2", "Name", "Pipe", "Pipe to vault 2"),
           ledger::redescribed("Pipe to vault 2", "Tag", "P-1", "P-9")});
    p.add(
        "of two that changed places each goes on by its name",
        [](MadeModel& m) {
            renewAll(m);
            shift(m.boxes[6], {1, 0, 0});
            shift(m.boxes[7], {-1, 0, 0});
        },
        [&] {
            Ledger lines = all; // the same body at the same place says more than a name
            lines.insert(ledger::redescribed("Post 1", "Name", "Post 2", "Post 1"));
            lines.insert(ledger::redescribed("Post 2", "Name", "Post 1", "Post 2"));
            return lines;
        }());
    // Posts in a row, each moved on to where its neighbour stood: not first come, but all together as likely as can be.
    VersionPair& row = p.add("a row, with one gone and one new", [](MadeModel&) {});
    for (MadeModel* m : {&row.before, &row.after})
        for (int i = 0; i < 5; ++i)
            m->boxes.push_back(
                {"Rail post " + std::to_string(i), {0.5 * i, 20, 0}, {0.5 * i + 0.1, 20.1, 1}, "IFCMEMBER"});
    for (std::size_t i = row.after.boxes.size() - 5; i < row.after.boxes.size(); ++i) {
        row.after.boxes[i].guid = MadeModel::guidOf("renewed " + row.after.boxes[i].name);
        shift(row.after.boxes[i], {0.02, 0, 0});
        row.wanted.insert(ledger::renewed(row.after.boxes[i].name));
        row.wanted.insert(ledger::moved(row.after.boxes[i].name, {0.02, 0, 0}));
    }
}

/// Cuts a box along x at these places, the parts called A, B, ...
void cut(MadeModel& m, const std::string& name, std::vector<double> at, bool isKept, double joint = 0)
{
    const Box whole = box(m, name);
    std::erase_if(m.boxes, [&](const Box& b) { return b.name == name; });
    at.insert(at.begin(), whole.low.x - joint / 2);
    at.push_back(whole.high.x + joint / 2);
    for (std::size_t i = 0; i + 1 < at.size(); ++i) {
        Box part = whole;
        part.low.x = at[i] + joint / 2;
        part.high.x = at[i + 1] - joint / 2;
        if (i > 0 || !isKept)
            part.name = name + " " + static_cast<char>('A' + i);
        part.guid = MadeModel::guidOf(part.name);
        part.tag = i > 0 || !isKept ? "" : whole.tag;
        m.boxes.push_back(part);
    }
}

void parts(Pairs& p)
{
    const auto ofWall = [](double to) { return to * 0.3 * 3; };
    p.add("a wall in two", [](MadeModel& m) { cut(m, "Wall", {2}, false); },
          {ledger::split("Wall", {"Wall A", "Wall B"})});
    p.add("a wall in three",
          [](MadeModel& m) {
              cut(m, "Wall", {2, 3.5}, false);
          },
          {ledger::split("Wall", {"Wall A", "Wall B", "Wall C"})});
    p.add("a wall in two with a joint", [](MadeModel& m) { cut(m, "Wall", {2}, false, 0.02); },
          {ledger::split("Wall", {"Wall A", "Wall B"})});
    p.add("a wall in two, one keeps the id", [](MadeModel& m) { cut(m, "Wall", {2}, true); },
          {ledger::split("Wall", {"Wall", "Wall B"}), ledger::reshaped("Wall", 0, ofWall(4))});
    p.add("a duct in four",
          [](MadeModel& m) {
              cut(m, "Duct", {2, 3, 4}, false);
          },
          {ledger::split("Duct", {"Duct A", "Duct B", "Duct C", "Duct D"})});
    for (const auto& [way, words] : kWays)
        p.add(std::string("a beam in two, written ") + words,
              [&](MadeModel& m) {
                  cut(m, "Beam", {3}, false);
                  write(m, way);
              },
              {ledger::split("Beam", {"Beam A", "Beam B"})});
    p.add("a beam in two in a turned file, fitted",
          [](MadeModel& m) {
              cut(m, "Beam", {3}, false);
              m.turnedDegrees = 31;
          },
          {ledger::split("Beam", {"Beam A", "Beam B"})});
    p.add("half of a wall gone is no cut",
          [](MadeModel& m) {
              cut(m, "Wall", {2, 4}, false);
              std::erase_if(m.boxes, [](const Box& b) { return b.name == "Wall B"; });
          },
          {ledger::removed("Wall"), ledger::added("Wall A"), ledger::added("Wall C")});
    const auto joined = [&](const std::string& name, std::vector<double> at, bool isKept, Ledger wanted) {
        VersionPair& pair = p.add(
            name, [](MadeModel&) {}, std::move(wanted));
        cut(pair.before, "Wall", std::move(at), isKept);
    };
    joined("two walls into one", {2}, false, {ledger::merged({"Wall A", "Wall B"}, "Wall")});
    joined("three walls into one", {2, 3.5}, false, {ledger::merged({"Wall A", "Wall B", "Wall C"}, "Wall")});
    joined("two walls into one of them", {2}, true,
           {ledger::merged({"Wall", "Wall B"}, "Wall"), ledger::reshaped("Wall", ofWall(4), 0)});
}

void rules(Pairs& p)
{
    const auto by = [&](const std::string& name, const Pairs::Edit& edit, changes::ChangeRule rule, Ledger wanted) {
        p.add("rule: " + name, edit, std::move(wanted)).rule = std::move(rule);
    };
    const Pairs::Edit five = [](MadeModel& m) { shift(box(m, "Wall"), {0.005, 0, 0}); };
    const Pairs::Edit turned = [](MadeModel& m) { box(m, "Slab").turnedDegrees = 0.5; };
    const Pairs::Edit longer = [](MadeModel& m) { box(m, "Pipe").high.x += 0.05; };
    const Pairs::Edit rating = [](MadeModel& m) {
        box(m, "Wall").properties[0].second = "EI 60";
        box(m, "Beam").tag = "B-7";
    };
    const std::string wall = ledger::redescribed("Wall", "Seed store.Fire rating", "EI 30", "EI 60"),
                      beam = ledger::redescribed("Beam", "Tag", "B-1", "B-7");
    by("5 mm of 10 do not count", five, {.distance = 0.01}, {});
    by("5 mm of 4 do", five, {.distance = 0.004}, {ledger::moved("Wall", {0.005, 0, 0})});
    by("half a degree of one does not count", turned, {.angle = fromDegrees(1)}, {});
    by("half a degree of 0.4 does", turned, {.angle = fromDegrees(0.4)}, {ledger::moved("Slab", {}, 0.5)});
    by("half a litre of one does not count", longer, {.volume = 0.001}, {});
    by("half a litre of 0.4 does", longer, {.volume = 0.0004}, {ledger::reshaped("Pipe", 0.05 * 0.01, 0)});
    by("a property does not count", rating, {.fields = "\"Seed store\".\"Fire rating\" is given"}, {beam});
    by("a set does not count", rating, {.fields = "\"Seed store\".\"*\" is given"}, {beam});
    by("a tag does not count", rating, {.fields = "tag is given"}, {wall});
    by("neither does", rating, {.fields = "tag is given or \"Seed*\".\"*\" is given"}, {});
    by("a word does not count", rating, {.fields = "\"rating\""}, {beam});
    by("one value does not count", rating, {.fields = "\"Seed store\".\"Fire rating\" is \"EI 60\""}, {beam});
    by("walls do not count", five, {.elements = "class is Wall"}, {});
    by("ducts do not count", five, {.elements = "class is DuctSegment"}, {ledger::moved("Wall", {0.005, 0, 0})});
    by("what is new among what does not count",
       [](MadeModel& m) {
           m.boxes.push_back({"Bench", {20, 0, 0}, {21, 0.4, 0.5}, "IFCFURNITURE"});
           m.boxes.erase(m.boxes.begin());
       },
       {.elements = "class is Furniture or class is Wall"}, {});
}

} // namespace

MadeModel smallBuilding()
{
    MadeModel m;
    m.boxes = {{"Wall", {0, 0, 0}, {6, 0.3, 3}, "IFCWALL", {}, {{"Fire rating", "EI 30"}, {"Mark", "01"}}, {}, "W-1"},
               {"Slab", {0, 0, 3}, {6, 6, 3.2}, "IFCSLAB", {}, {}, {}, "S-1"},
               {"Duct", {1, 2, 2.5}, {5, 2.4, 2.8}, "IFCDUCTSEGMENT", {}, {{"Mark", "D"}}, {}, "D-1"},
               {"Column", {10, 10, 0}, {10.4, 10.4, 3}, "IFCCOLUMN", {}, {}, {}, "C-1"},
               {"Beam", {0, 8, 2.6}, {8, 8.3, 3}, "IFCBEAM", {}, {}, {}, "B-1", "IPE 300"},
               {"Pipe", {1, 4, 2}, {5, 4.1, 2.1}, "IFCPIPESEGMENT", {}, {}, {}, "P-1"},
               {"Post 1", {14, 0, 0}, {14.1, 0.1, 2}, "IFCMEMBER"},
               {"Post 2", {15, 0, 0}, {15.1, 0.1, 2}, "IFCMEMBER"}};
    return m;
}

std::vector<VersionPair> versionPairs()
{
    Pairs pairs;
    for (const auto collect : {noise, motions, shapes, descriptions, comings, renewed, parts, rules})
        collect(pairs);
    return std::move(pairs.all_);
}

} // namespace wendrix::test
