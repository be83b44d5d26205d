#include "support/change_ledger.h"

#include "support/ifc_text.h"

#include "core/changes/frames.h"
#include "core/changes/volume_change.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <iterator>

namespace wendrix::test {

namespace {

/// Without the sign that rounding leaves before nothing.
double rounded(double value, double step)
{
    constexpr double kTie = 1e-4; // of a step: what stands half way is rounded upwards however it was worked out
    const double r = std::floor(value / step + 0.5 + kTie) * step;
    return r == 0 ? 0 : r;
}

std::string joined(const std::set<std::string>& names)
{
    std::string all;
    for (const std::string& name : names)
        all += (all.empty() ? "" : ", ") + name;
    return all;
}

} // namespace

std::string ledger::added(const std::string& name) { return "added " + name; }
std::string ledger::removed(const std::string& name) { return "removed " + name; }

std::string ledger::moved(const std::string& name, Vector3 shift, double turnedDegrees)
{
    return fmt::format("moved {} by {:.1f} {:.1f} {:.1f} mm, turned {:.2f}", name, rounded(1000 * shift.x, 0.1),
                       rounded(1000 * shift.y, 0.1), rounded(1000 * shift.z, 0.1), rounded(turnedDegrees, 0.01));
}

std::string ledger::reshaped(const std::string& name, double more, double less)
{
    return fmt::format("reshaped {} +{:.2f} -{:.2f} l", name, rounded(1000 * more, 0.01), rounded(1000 * less, 0.01));
}

std::string ledger::redescribed(const std::string& name, const std::string& field, const std::string& before,
                                const std::string& after)
{
    return "redescribed " + name + ": " + field + " from '" + before + "' to '" + after + "'";
}

std::string ledger::renewed(const std::string& name) { return "renewed " + name; }
std::string ledger::split(const std::string& name, std::set<std::string> parts)
{
    return "split " + name + " into " + joined(parts);
}
std::string ledger::merged(std::set<std::string> parts, const std::string& name)
{
    return "merged " + joined(parts) + " into " + name;
}

federation::Member memberOf(const MadeModel& made)
{
    const auto read = std::shared_ptr<Read>(readText(made.text()));
    federation::Member member;
    member.discipline = made.name;
    member.model = std::shared_ptr<const ifc::Model>(read, read->model.get()); // reads from the text, which goes along
    member.geometry = read->geometry;
    member.fit.rotation = fromDegrees(made.turnedDegrees);
    member.fit.translation = made.shift;
    return member;
}

Ledger ledgerOf(const changes::Comparison& c, const federation::Member& before, const federation::Member& after)
{
    const auto name = [](const federation::Member& m, ifc::ElementIndex i) {
        return m.model->displayName(m.model->elements()[i]);
    };
    const auto names = [&](const federation::Member& m, const std::vector<ifc::ElementIndex>& elements) {
        std::set<std::string> all;
        for (const ifc::ElementIndex i : elements)
            all.insert(name(m, i));
        return all;
    };
    Ledger lines;
    for (const ifc::ElementIndex i : c.added)
        lines.insert(ledger::added(name(after, i)));
    for (const ifc::ElementIndex i : c.removed)
        lines.insert(ledger::removed(name(before, i)));
    for (const changes::Change& change : c.changed) {
        const std::string now = name(after, change.after);
        if (change.isMoved)
            lines.insert(
                ledger::moved(now, after.fit.transform().turn(change.motion.shift), toDegrees(change.motion.turn)));
        if (change.isReshaped) {
            const changes::VolumeChange v = changes::volumeChange(changes::bodyBefore(before, change.before, after),
                                                                  after.geometry->meshOf(change.after), 0.001);
            lines.insert(ledger::reshaped(now, v.addedVolume, v.removedVolume));
        }
        for (const changes::FieldChange& f : change.fields)
            lines.insert(ledger::redescribed(now, f.set.empty() ? f.name : f.set + "." + f.name, f.before, f.after));
    }
    for (const changes::Rekeyed& r : c.rekeyed)
        lines.insert(ledger::renewed(name(after, r.after)));
    for (const changes::Split& s : c.splits)
        lines.insert(ledger::split(name(before, s.before), names(after, s.after)));
    for (const changes::Merge& m : c.merges)
        lines.insert(ledger::merged(names(before, m.before), name(after, m.after)));
    return lines;
}

std::string difference(const Ledger& wanted, const Ledger& found)
{
    std::vector<std::string> missing, tooMany;
    std::set_difference(wanted.begin(), wanted.end(), found.begin(), found.end(), std::back_inserter(missing));
    std::set_difference(found.begin(), found.end(), wanted.begin(), wanted.end(), std::back_inserter(tooMany));
    std::string text;
    for (const std::string& line : missing)
        text += "\n- " + line;
    for (const std::string& line : tooMany)
        text += "\n+ " + line;
    return text;
}

} // namespace wendrix::test
