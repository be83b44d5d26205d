#include "core/step/file.h"

#include "core/base/text.h"
#include "core/step/parse.h"

#include <algorithm>
#include <charconv>
#include <unordered_map>

namespace wendrix::step {

namespace {

/// The ';' that ends the statement at `at`, outside strings and comments; npos if there is none.
std::size_t statementEnd(std::string_view bytes, std::size_t at)
{
    while (at < bytes.size()) {
        const char c = bytes[at];
        if (c == ';')
            return at;
        if (c == '\'') {
            at = skipString(bytes, at);
            if (at == std::string_view::npos)
                return at;
        } else if (c == '/' && at + 1 < bytes.size() && bytes[at + 1] == '*') {
            const std::size_t end = bytes.find("*/", at + 2);
            if (end == std::string_view::npos)
                return end;
            at = end + 2;
        } else {
            ++at;
        }
    }
    return std::string_view::npos;
}

class KeywordTable {
public:
    explicit KeywordTable(std::vector<std::string>& keywords) : keywords_(keywords) {}
    std::uint32_t indexOf(std::string_view word)
    {
        if (const auto found = index_.find(word); found != index_.end())
            return found->second;
        keywords_.push_back(upperCase(word));
        const auto id = static_cast<std::uint32_t>(keywords_.size() - 1);
        index_.emplace(word, id); // the view into the file's bytes outlives the scan
        return id;
    }

private:
    std::vector<std::string>& keywords_;
    std::unordered_map<std::string_view, std::uint32_t> index_;
};

} // namespace

Result<File> File::open(const std::filesystem::path& path, Progress& progress)
{
    auto mapped = MappedFile::open(path);
    if (!mapped)
        return fail(mapped.error());
    auto file = index((*mapped)->bytes(), path.string(), progress);
    if (file)
        file->mapped_ = *mapped;
    return file;
}

Result<File> File::index(std::string_view bytes, const std::string& name, Progress& progress)
{
    File file;
    file.bytes_ = bytes;
    file.name_ = name;
    if (auto done = file.scan(progress); !done)
        return fail(done.error());
    return file;
}

Result<void> File::scan(Progress& progress)
{
    std::size_t at = bytes_.starts_with("\xEF\xBB\xBF") ? 3 : 0;
    at = skipBlank(bytes_, at);
    if (bytes_.substr(at, 12) != "ISO-10303-21")
        return fail({kNotStep,
                     "This is not a STEP file: it does not begin with ISO-10303-21. Export it again as .ifc.", name_,
                     "", at});
    bool inData = false, dataSeen = false;
    KeywordTable keywords(keywords_);
    EntityId last = 0;
    std::size_t statements = 0;
    for (;;) {
        at = skipBlank(bytes_, at);
        const std::size_t start = at;
        const std::size_t end = at < bytes_.size() ? statementEnd(bytes_, at) : std::string_view::npos;
        if (end == std::string_view::npos) {
            if (dataSeen && !inData)
                break; // only the closing line is missing
            return fail({kTruncated,
                         "The file ends in the middle of its data, so a part of the model is missing. Ask the "
                         "sender for the whole file.",
                         name_, last != 0 ? "#" + std::to_string(last) : "", bytes_.size()});
        }
        const std::string_view statement = bytes_.substr(start, end - start);
        at = end + 1;
        if ((++statements & 0x3FFF) == 0) {
            if (progress.isCancelled())
                return fail({kCancelled, "Reading was cancelled.", name_});
            progress.report("Reading " + std::filesystem::path(name_).filename().string(),
                            static_cast<double>(at) / static_cast<double>(bytes_.size()));
        }
        if (inData && statement.starts_with('#')) {
            EntityId id = 0;
            const char* limit = statement.data() + statement.size();
            const auto [p, code] = std::from_chars(statement.data() + 1, limit, id);
            std::size_t i = skipBlank(statement, static_cast<std::size_t>(p - statement.data()));
            const bool hasEquals = code == std::errc{} && i < statement.size() && statement[i] == '=';
            i = hasEquals ? skipBlank(statement, i + 1) : i;
            std::size_t wordEnd = i;
            while (wordEnd < statement.size() && statement[wordEnd] != '(' && statement[wordEnd] != ' ' &&
                   statement[wordEnd] != '\n' && statement[wordEnd] != '\r' && statement[wordEnd] != '\t')
                ++wordEnd;
            const std::size_t open = skipBlank(statement, wordEnd);
            if (!hasEquals || wordEnd == i || open >= statement.size() || statement[open] != '(') {
                diagnostics_.push_back({Severity::Error, "step.statement", id != 0 ? "#" + std::to_string(id) : "",
                                        "The statement at byte " + std::to_string(start) +
                                            " is not well formed and was passed over."});
                continue;
            }
            entries_.push_back({id, start + open, keywords.indexOf(statement.substr(i, wordEnd - i))});
            last = id;
        } else if (statement.starts_with("DATA")) {
            inData = dataSeen = true;
        } else if (statement.starts_with("ENDSEC")) {
            inData = false;
        } else if (statement.starts_with("END-ISO-10303-21")) {
            break;
        } else if (!inData) {
            readHeader(statement);
        }
    }
    if (!dataSeen)
        return fail({kTruncated, "The file has no DATA section; ask the sender for the whole file.", name_});
    std::stable_sort(entries_.begin(), entries_.end(), [](const Entry& a, const Entry& b) { return a.id < b.id; });
    const auto repeated = std::unique(entries_.begin(), entries_.end(),
                                      [](const Entry& a, const Entry& b) { return a.id == b.id; });
    if (repeated != entries_.end())
        diagnostics_.push_back({Severity::Error, "step.repeated-id", "",
                                std::to_string(entries_.end() - repeated) +
                                    " entities repeat a number that is already used; the first of each counts."});
    entries_.erase(repeated, entries_.end());
    return {};
}

void File::readHeader(std::string_view statement)
{
    const std::size_t open = statement.find('(');
    if (open == std::string_view::npos)
        return;
    std::string problem;
    const Instance instance = parseArguments(statement.substr(open), problem);
    const Value arguments = instance.arguments();
    if (statement.starts_with("FILE_SCHEMA")) {
        schema_ = upperCase(arguments[0][0].text());
    } else if (statement.starts_with("FILE_NAME")) {
        timeStamp_ = arguments[1].text();
        originatingSystem_ = arguments[5].text();
    }
}

const File::Entry* File::find(EntityId id) const
{
    const auto at = std::lower_bound(entries_.begin(), entries_.end(), id,
                                     [](const Entry& e, EntityId wanted) { return e.id < wanted; });
    return at != entries_.end() && at->id == id ? &*at : nullptr;
}

Instance File::read(const Entry& entry, Diagnostic* problem) const
{
    std::string why;
    Instance instance = parseArguments(bytes_.substr(entry.offset), why);
    if (instance.nodes.empty() && problem != nullptr)
        *problem = {Severity::Error, "step.arguments", "#" + std::to_string(entry.id),
                    "The arguments can not be read: " + why + "."};
    return instance;
}

} // namespace wendrix::step
