#include "core/issues/issue_template.h"

#include "core/sets/language.h"

#include <algorithm>

namespace wendrix::issues {

namespace {

/// Goes through a text: what stands between, and the words in braces.
template <class Plain, class Word>
void eachPart(const std::string& text, Plain&& plain, Word&& word)
{
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t open = text.find('{', at), close = text.find('}', open == std::string::npos ? at : open);
        if (open == std::string::npos || close == std::string::npos) {
            plain(text.substr(at));
            return;
        }
        plain(text.substr(at, open - at));
        word(text.substr(open + 1, close - open - 1));
        at = close + 1;
    }
}

using Words = std::vector<std::pair<std::string, std::string>>;

bool isKnown(const Words& words, const std::string& word)
{
    return std::any_of(words.begin(), words.end(), [&](const auto& one) { return one.first == word; });
}

IssueTemplate usualOf(const char* source, const char* name, const char* type)
{
    IssueTemplate t;
    t.source = source;
    t.name = name;
    t.type = type;
    if (t.source == made_from::kClash)
        return t;
    t.assignee = "{discipline}";
    t.labels = {};
    t.stage.clear();
    return t;
}

std::vector<IssueTemplate> makeUsuals()
{
    IssueTemplate change = usualOf(made_from::kChange, "Change", "Change");
    change.title = "{title}: is this meant?";
    change.description = "{revisions}\n\n{elements}";
    change.priority = "Normal";
    change.labels = {"{discipline}"};
    IssueTemplate check = usualOf(made_from::kCheck, "Finding", "Request");
    check.description = "{said}\n{revisions}:\n{elements}";
    IssueTemplate selection = usualOf(made_from::kSelection, "Selection", "Remark");
    selection.description.clear();
    IssueTemplate note = usualOf(made_from::kNote, "Note", "Remark");
    note.description = "{said}";
    IssueTemplate view = usualOf(made_from::kView, "View", "Remark");
    view.description.clear();
    view.assignee.clear();
    return {usualOf(made_from::kClash, "Clash", "Clash"), change, check, selection, note, view};
}

} // namespace

const std::vector<IssueTemplate>& IssueTemplate::usuals()
{
    static const std::vector<IssueTemplate> kAll = makeUsuals();
    return kAll;
}

IssueTemplate IssueTemplate::usual(const std::string& source)
{
    const auto found =
        std::find_if(usuals().begin(), usuals().end(), [&](const IssueTemplate& t) { return t.source == source; });
    return found == usuals().end() ? usuals().front() : *found;
}

const Words& placeholders(const std::string& source)
{
    static const Words kOfClashes{
        {"title", "the sentence the group is called by"},
        {"left", "the left side: its element, or how many; as assignee its discipline"},
        {"right", "the right side, the same"},
        {"where", "storey and bay"},
        {"storey", "storeys"},
        {"bay", "bays"},
        {"elevation", "height above the reference's zero, in metres"},
        {"depth", "how deep, or how close of how much"},
        {"kind", "hard, clearance or duplicate"},
        {"test", "the test that found it"},
        {"revisions", "both members with their revisions"},
        {"count", "how many pairs"},
        {"pairs", "every pair on a line of its own"},
        {"decider", "whom the test says decides"},
    };
    static const Words kOfOthers{
        {"title", "what the change, the finding or the note is called, or the elements' names"},
        {"said", "what the check advises, or the note and its answers"},
        {"kind", "moved, removed, ... of changes; fault, warning, note of findings"},
        {"discipline", "whose elements they are; nothing where they are of several"},
        {"revisions", "which revisions they are of"},
        {"where", "storey and bay"},
        {"storey", "storeys"},
        {"bay", "bays"},
        {"count", "how many elements"},
        {"elements", "every element on a line of its own, with what is said of it"},
    };
    return source == made_from::kClash ? kOfClashes : kOfOthers;
}

std::vector<std::string> kindsOf(const std::string& source)
{
    if (source == made_from::kClash)
        return {"hard", "clearance", "duplicate"};
    if (source == made_from::kChange)
        return {"added", "removed", "cut up", "joined", "reshaped", "moved", "redescribed", "new id"};
    if (source == made_from::kCheck)
        return {"fault", "warning", "note"};
    return {};
}

std::string filled(const std::string& text, const Placeholders& with)
{
    std::string out;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        std::string line;
        bool hasWords = false, saysSomething = false;
        eachPart(
            text.substr(at, end - at), [&](const std::string& plain) { line += plain; },
            [&](const std::string& word) {
                const auto known = with.find(word);
                if (known == with.end()) {
                    line += "{" + word + "}";
                    saysSomething = true;
                } else {
                    line += known->second;
                    saysSomething = saysSomething || !known->second.empty();
                }
                hasWords = true;
            });
        if (!hasWords || saysSomething)
            out += line + "\n";
        at = end + 1;
    }
    while (!out.empty() && out.back() == '\n')
        out.pop_back();
    return out;
}

std::string mistakeIn(const IssueTemplate& t)
{
    const bool isOfClashes = t.source == made_from::kClash;
    const auto& all = IssueTemplate::usuals();
    if (t.name.empty())
        return "A template of issues needs a name.";
    if (std::none_of(all.begin(), all.end(), [&](const IssueTemplate& usual) { return usual.source == t.source; }))
        return "Made from: " + t.source + " is nothing that issues are made from.";
    if (t.title.empty())
        return std::string("Title: an issue needs one; {title} is ") +
               (isOfClashes ? "the sentence the group is called by." : "what it is made from in short.");
    const Words& known = placeholders(t.source);
    std::vector<std::pair<const char*, const std::string*>> texts{
        {"Title", &t.title}, {"Description", &t.description}, {"Assignee", &t.assignee}};
    for (const std::string& label : t.labels)
        texts.emplace_back("Labels", &label);
    for (const auto& [field, text] : texts) {
        std::string wrong;
        eachPart(
            *text, [](const std::string&) {},
            [&](const std::string& word) {
                if (wrong.empty() && !isKnown(known, word))
                    wrong = word;
            });
        if (!wrong.empty())
            return std::string(field) + ": {" + wrong + "} stands for nothing; " +
                   (isOfClashes ? "{where}, {depth} or {pairs} would." : "{title}, {where} or {elements} would.");
    }
    const std::vector<std::string> kinds = kindsOf(t.source);
    for (const auto& [kind, priority] : t.priorityFor)
        if (priority.empty() || std::find(kinds.begin(), kinds.end(), kind) == kinds.end()) {
            std::string words;
            for (const std::string& one : kinds)
                words += (words.empty() ? "" : ", ") + one;
            return "Priority by kind: " + kind + (priority.empty() ? " has no priority" : " is no kind") +
                   (words.empty() ? "; there are none here." : "; there are " + words + ".");
        }
    for (const auto& [set, assignee] : t.assigneeFor) {
        if (set.empty() || assignee.empty())
            return "Assignee by set: " + (set.empty() ? assignee : set) +
                   " stands alone; who is given it and a set belong together.";
        if (const auto parsed = sets::parse(set); !parsed.expression)
            return "Assignee by set: " + set + ": " + parsed.mistake.message;
    }
    if (t.daysToFix < 0 || t.daysToFix > kMostDaysToFix)
        return "Days to fix: a number from 0 to " + std::to_string(kMostDaysToFix) + ".";
    for (const auto& [priority, days] : t.daysFor)
        if (priority.empty() || days < 0 || days > kMostDaysToFix)
            return "Days by priority: a priority with a number from 0 to " + std::to_string(kMostDaysToFix) + ".";
    return {};
}

Issue drafted(const IssueTemplate& t, const Ground& ground, const Timestamp& now)
{
    Issue issue;
    issue.title = filled(t.title, ground.words);
    if (issue.title.empty()) // all its words stand for nothing here
        issue.title = t.name;
    issue.description = filled(t.description, ground.words);
    issue.type = t.type;
    issue.stage = t.stage;
    issue.priority = t.priority.empty() ? ground.weight : t.priority;
    const auto isHere = [&](const std::string& kind) {
        return std::find(ground.kinds.begin(), ground.kinds.end(), kind) != ground.kinds.end();
    };
    const auto byKind =
        std::find_if(t.priorityFor.begin(), t.priorityFor.end(), [&](const auto& one) { return isHere(one.first); });
    if (byKind != t.priorityFor.end())
        issue.priority = byKind->second;
    const auto days =
        std::find_if(t.daysFor.begin(), t.daysFor.end(), [&](const auto& one) { return one.first == issue.priority; });
    issue.dueAt = daysLater(now, days == t.daysFor.end() ? t.daysToFix : days->second);
    for (const std::string& label : t.labels)
        if (const std::string text = filled(label, ground.words); !text.empty())
            issue.labels.push_back(text);
    Placeholders words = ground.words;
    for (const auto& [side, discipline] : ground.sides)
        words[side] = discipline;
    issue.assignee = filled(t.assignee, words);
    issue.location = ground.location;
    return issue;
}

} // namespace wendrix::issues
