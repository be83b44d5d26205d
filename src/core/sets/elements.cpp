#include "core/sets/elements.h"

#include "core/base/fold.h"
#include "core/base/text.h"
#include "core/geometry/triangle_tree.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace wendrix::sets {

namespace {

using Bits = std::vector<std::uint8_t>;

/// Numbers are the same that differ by no more than writing them rounds away.
bool areEqual(double a, double b) { return std::abs(a - b) <= 1e-9 * std::max({1.0, std::abs(a), std::abs(b)}); }

bool comparesNumbers(Relation r) { return r >= Relation::Equal && r <= Relation::AtLeast; }

bool holds(Relation relation, double a, double b)
{
    switch (relation) {
    case Relation::Equal:
        return areEqual(a, b);
    case Relation::Unequal:
        return !areEqual(a, b);
    case Relation::Less:
        return a < b && !areEqual(a, b);
    case Relation::AtMost:
        return a < b || areEqual(a, b);
    case Relation::More:
        return a > b && !areEqual(a, b);
    case Relation::AtLeast:
        return a > b || areEqual(a, b);
    default:
        return false;
    }
}

/// Whether one value is what is asked for; is-not, given and missing are the caller's.
bool isWanted(const Column::Entry& entry, Relation relation, const Value& value, const std::string& foldedValue)
{
    if (entry.text.empty())
        return false;
    const bool isNumber = value.number && !value.isQuoted && entry.number &&
                          (value.dimension.empty() || value.dimension == entry.dimension);
    if (comparesNumbers(relation))
        return isNumber && holds(relation, *entry.number, *value.number);
    if (relation == Relation::Has)
        return entry.folded.find(foldedValue) != std::string::npos;
    if (relation == Relation::StartsWith)
        return entry.folded.starts_with(foldedValue);
    return entry.folded == foldedValue || (isNumber && areEqual(*entry.number, *value.number));
}

Bits pickedBy(const Column& column, const Condition& c, std::size_t count)
{
    std::vector<std::string> values;
    for (const Value& v : c.values)
        values.push_back(folded(v.text));
    // What the entries answer is worked out once; elements only look it up.
    std::vector<std::uint8_t> answers(column.entries.size(), 0);
    for (std::size_t k = 1; k < column.entries.size(); ++k) {
        if (c.relation == Relation::Given || c.relation == Relation::Missing) {
            answers[k] = 1;
            continue;
        }
        for (std::size_t v = 0; v < values.size() && answers[k] == 0; ++v)
            answers[k] = isWanted(column.entries[k], c.relation, c.values[v], values[v]) ? 1 : 0;
    }
    Bits bits(count, 0);
    for (std::size_t i = 0; i < count; ++i)
        bits[i] = answers[column.of[i]];
    if (!column.moreOf.empty())
        for (std::size_t i = 0; i < count; ++i)
            for (const std::uint32_t more : column.moreOf[i])
                bits[i] |= answers[more];
    if (c.relation == Relation::IsNot || c.relation == Relation::Missing)
        for (std::uint8_t& b : bits)
            b ^= 1;
    return bits;
}

/// Classes with their subclasses, named with or without "Ifc".
Bits pickedByClass(const MemberColumns& columns, const Condition& c)
{
    const ifc::Model& model = *columns.member().model;
    const ifc::Schema& schema = model.source().schema();
    std::unordered_map<ifc::TypeId, std::uint8_t> answers;
    const auto answerOf = [&](ifc::TypeId type) -> std::uint8_t {
        if (c.relation == Relation::Given || c.relation == Relation::Missing)
            return 1;
        for (const Value& v : c.values) {
            const std::string name = upperCase(v.text);
            const ifc::TypeId wanted = schema.typeOfKeyword(name.starts_with("IFC") ? name : "IFC" + name);
            const std::string own = folded(schema.typeName(type)), words = folded(classInWords(schema.typeName(type))),
                              text = folded(v.text);
            const bool isIt = c.relation == Relation::Has
                                  ? own.find(text) != std::string::npos || words.find(text) != std::string::npos
                              : c.relation == Relation::StartsWith
                                  ? own.starts_with(text) || words.starts_with(text)
                                  : (wanted != ifc::kUnknownType && schema.isA(type, wanted)) || words == text;
            if (isIt)
                return 1;
        }
        return 0;
    };
    Bits bits(columns.size(), 0);
    const bool isNegated = c.relation == Relation::IsNot || c.relation == Relation::Missing;
    for (std::size_t i = 0; i < bits.size(); ++i) {
        const ifc::TypeId type = model.elements()[i].type;
        const auto [at, isNew] = answers.try_emplace(type, 0);
        if (isNew)
            at->second = answerOf(type);
        bits[i] = at->second ^ (isNegated ? 1 : 0);
    }
    return bits;
}

/// All words somewhere in what an element is called by.
Bits pickedByWords(const MemberColumns& columns, const std::string& text)
{
    Bits bits(columns.size(), 1);
    const std::string all = folded(text);
    for (std::size_t from = 0; from < all.size();) {
        const std::size_t end = std::min(all.find(' ', from), all.size());
        if (end > from) {
            Condition c;
            c.relation = Relation::Has;
            c.values.push_back({all.substr(from, end - from), {}, {}, true});
            Bits any(columns.size(), 0);
            for (const Field field :
                 {Field::Class, Field::Type, Field::Name, Field::Tag, Field::System, Field::Storey, Field::Material}) {
                c.field = field;
                const Bits some =
                    field == Field::Class ? pickedByClass(columns, c) : pickedBy(columns.of(field), c, columns.size());
                for (std::size_t i = 0; i < any.size(); ++i)
                    any[i] |= some[i];
            }
            for (std::size_t i = 0; i < bits.size(); ++i)
                bits[i] &= any[i];
        }
        from = end + 1;
    }
    return bits;
}

/// Elements whose middle lies in the box.
Bits pickedInside(const MemberColumns& columns, const Box& box)
{
    const federation::Member& member = columns.member();
    const Transform fit = member.fit.transform();
    Bits bits(columns.size(), 0);
    for (std::size_t i = 0; i < bits.size(); ++i) {
        const Box3& bounds = member.geometry->elements()[i].bounds;
        if (bounds.isEmpty())
            continue;
        const Point3 middle = fit.apply(bounds.centre());
        const double at[3] = {middle.x, middle.y, middle.z};
        bool isIn = true;
        for (int k = 0; k < 3; ++k)
            isIn = isIn && at[k] >= box.low[k] && at[k] <= box.high[k];
        bits[i] = isIn ? 1 : 0;
    }
    return bits;
}

using Members = std::vector<std::unique_ptr<const MemberColumns>>;

/// Bodies of all spaces of these names, whichever member has them, in the federation's frame.
std::vector<geometry::TriangleTree> spacesOf(const Members& members, const Condition& names)
{
    std::vector<geometry::TriangleTree> spaces;
    for (const auto& columns : members) {
        const federation::Member& member = columns->member();
        const ifc::Model& model = *member.model;
        for (ifc::ElementIndex i = 0; i < model.elements().size(); ++i) {
            const ifc::Element& e = model.elements()[i];
            if (!model.source().schema().isA(e.type, "IfcSpace") || member.geometry->elements()[i].placed.empty())
                continue;
            const std::string name = folded(model.text(e.name)),
                              longName = folded(model.source().entity(e.entity)["LongName"].text());
            for (const Value& v : names.values)
                if (const std::string wanted = folded(v.text); wanted == name || wanted == longName) {
                    spaces.emplace_back(geometry::transformed(member.geometry->meshOf(i), member.fit.transform()));
                    break;
                }
        }
    }
    return spaces;
}

/// Elements whose middle lies in a space; the space itself is none.
Bits pickedInSpaces(const MemberColumns& columns, const std::vector<geometry::TriangleTree>& spaces)
{
    const federation::Member& member = columns.member();
    const ifc::Model& model = *member.model;
    const Transform fit = member.fit.transform();
    Bits bits(columns.size(), 0);
    for (std::size_t i = 0; i < bits.size(); ++i) {
        const Box3& bounds = member.geometry->elements()[i].bounds;
        if (bounds.isEmpty() || model.source().schema().isA(model.elements()[i].type, "IfcSpace"))
            continue;
        const Point3 middle = fit.apply(bounds.centre());
        bits[i] = std::any_of(spaces.begin(), spaces.end(),
                              [&](const geometry::TriangleTree& space) { return space.contains(middle); });
    }
    return bits;
}

class Evaluation {
public:
    Evaluation(const Members& all, const MemberColumns& columns, const Knowledge& knowledge)
        : all_(all), columns_(columns), knowledge_(knowledge)
    {
    }

    Bits of(const Expression& e)
    {
        switch (e.kind) {
        case Expression::Kind::Everything:
            return Bits(columns_.size(), 1);
        case Expression::Kind::Condition:
            return e.condition.field == Field::Class
                       ? pickedByClass(columns_, e.condition)
                       : pickedBy(e.condition.field == Field::Property
                                      ? columns_.property(e.condition.setName, e.condition.propertyName)
                                      : columns_.of(e.condition.field),
                                  e.condition, columns_.size());
        case Expression::Kind::Words:
            return pickedByWords(columns_, e.text);
        case Expression::Kind::Inside:
            return pickedInside(columns_, e.box);
        case Expression::Kind::InsideSpace:
            return pickedInSpaces(columns_, spacesOf(all_, e.condition));
        case Expression::Kind::Not: {
            Bits bits = of(e.parts[0]);
            for (std::uint8_t& b : bits)
                b ^= 1;
            return bits;
        }
        case Expression::Kind::AnyOf:
        case Expression::Kind::AllOf: {
            Bits bits = of(e.parts[0]);
            for (std::size_t k = 1; k < e.parts.size(); ++k) {
                const Bits more = of(e.parts[k]);
                for (std::size_t i = 0; i < bits.size(); ++i)
                    bits[i] = e.kind == Expression::Kind::AnyOf ? bits[i] | more[i] : bits[i] & more[i];
            }
            return bits;
        }
        case Expression::Kind::Set:
            return ofNamed(e.text);
        case Expression::Kind::HasIssue:
            return knowledge_.withIssue ? pickedOf(knowledge_.withIssue(e.text)) : Bits(columns_.size(), 0);
        case Expression::Kind::ChangedSince:
            return knowledge_.changedSince ? pickedOf(knowledge_.changedSince(e.text)) : Bits(columns_.size(), 0);
        }
        return Bits(columns_.size(), 0);
    }
    std::string problem;

private:
    Bits pickedOf(const Knowledge::Refs& refs) const
    {
        Bits bits(columns_.size(), 0);
        const federation::Member& member = columns_.member();
        for (const ElementRef& ref : refs)
            if (ref.discipline == 0 || (ref.discipline == member.disciplineId && ref.part == member.part))
                if (const auto element = member.model->find(ref.guid, ref.ordinal))
                    bits[*element] = 1;
        return bits;
    }

    Bits ofNamed(const std::string& name)
    {
        const Bits none(columns_.size(), 0);
        if (std::find(open_.begin(), open_.end(), name) != open_.end()) {
            problem = "The set \"" + name + "\" leads back to itself.";
            return none;
        }
        const auto line = knowledge_.named ? knowledge_.named(name) : std::nullopt;
        if (!line) {
            problem = "There is no set called \"" + name + "\".";
            return none;
        }
        const Parsed parsed = parse(*line);
        if (!parsed.expression) {
            problem = "The set \"" + name + "\" is not well formed: " + parsed.mistake.message + ".";
            return none;
        }
        open_.push_back(name);
        Bits bits = of(*parsed.expression);
        open_.pop_back();
        return bits;
    }

    const Members& all_;
    const MemberColumns& columns_;
    const Knowledge& knowledge_;
    std::vector<std::string> open_; ///< named sets that are being worked out
};

std::vector<std::string> mostFrequent(const std::unordered_map<std::string, std::size_t>& counts, std::size_t most)
{
    std::vector<std::pair<std::string, std::size_t>> all(counts.begin(), counts.end());
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) {
        return a.second != b.second ? a.second > b.second : a.first < b.first;
    });
    std::vector<std::string> values;
    for (std::size_t i = 0; i < std::min(most, all.size()); ++i)
        values.push_back(all[i].first);
    return values;
}

} // namespace

Elements::Elements(std::span<const federation::Member> members, std::shared_ptr<const ifc::Model> reference)
    : reference_(std::move(reference))
{
    if (reference_ == nullptr && !members.empty())
        reference_ = members.front().model;
    if (reference_ != nullptr)
        locator_ = std::make_unique<const federation::Locator>(*reference_);
    for (const federation::Member& m : members)
        members_.push_back(std::make_unique<const MemberColumns>(m, locator_.get()));
}

Elements::Answer Elements::in(const Expression& set, const Knowledge& knowledge) const
{
    Answer answer;
    answer.picked.resize(members_.size());
    std::vector<std::string> problems(members_.size());
    tbb::parallel_for(std::size_t{0}, members_.size(), [&](std::size_t m) {
        Evaluation evaluation(members_, *members_[m], knowledge);
        answer.picked[m] = evaluation.of(set);
        problems[m] = std::move(evaluation.problem);
    });
    for (std::size_t m = 0; m < members_.size(); ++m) {
        answer.count += static_cast<std::size_t>(std::count(answer.picked[m].begin(), answer.picked[m].end(), 1));
        if (answer.problem.empty())
            answer.problem = problems[m];
    }
    if (!answer.problem.empty()) {
        for (auto& bits : answer.picked)
            std::fill(bits.begin(), bits.end(), std::uint8_t{0});
        answer.count = 0;
    }
    return answer;
}

std::vector<std::string> Elements::valuesOf(Field field, const std::string& begun, std::size_t most) const
{
    const std::string start = folded(begun);
    std::unordered_map<std::string, std::size_t> counts;
    for (const auto& columns : members_) {
        if (field == Field::Class) {
            const ifc::Model& model = *columns->member().model;
            for (const ifc::Element& e : model.elements()) {
                std::string name(model.className(e));
                name = name.starts_with("Ifc") ? name.substr(3) : name;
                if (folded(name).starts_with(start))
                    ++counts[name];
            }
            continue;
        }
        const Column& column = columns->of(field);
        std::vector<std::size_t> uses(column.entries.size(), 0);
        for (const std::uint32_t k : column.of)
            ++uses[k];
        for (const auto& more : column.moreOf)
            for (const std::uint32_t k : more)
                ++uses[k];
        for (std::size_t k = 1; k < column.entries.size(); ++k)
            if (uses[k] > 0 && column.entries[k].folded.starts_with(start))
                counts[column.entries[k].text] += uses[k];
    }
    return mostFrequent(counts, most);
}

std::vector<std::string> Elements::propertiesOf(const std::string& begun, std::size_t most) const
{
    const std::string start = folded(begun);
    std::unordered_map<std::string, std::size_t> counts;
    for (const auto& columns : members_)
        for (const auto& [set, name] : columns->propertyNames())
            if (const std::string both = set + "." + name; folded(both).starts_with(start))
                ++counts[both];
    return mostFrequent(counts, most);
}

} // namespace wendrix::sets
