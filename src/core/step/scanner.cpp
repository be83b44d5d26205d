#include "core/step/scanner.h"

#include "core/base/text.h"
#include "core/step/entity_table.h"
#include "core/step/parse.h"
#include "core/step/scan_ahead.h"
#include "core/step/statement.h"

#include <charconv>
#include <optional>

namespace wendrix::step {

namespace {

constexpr std::size_t kNone = std::string_view::npos;
// Diagnostics that one damaged file may fill memory with; past these they are counted.
constexpr std::size_t kMostDiagnostics = 1000;

class Scanner {
public:
    Scanner(std::string_view bytes, const std::string& name, Progress& progress)
        : bytes_(bytes), name_(name), progress_(progress), entities_(bytes)
    {
    }

    Result<Scan> run()
    {
        std::size_t at = skipBlank(bytes_, bytes_.starts_with("\xEF\xBB\xBF") ? 3 : 0);
        if (bytes_.substr(at, 12) != "ISO-10303-21")
            return fail({kNotStep,
                         "This is not a STEP file: it does not begin with ISO-10303-21. Export it again as .ifc.",
                         name_, "", at});
        const std::string what = "Reading " + std::filesystem::path(name_).filename().string();
        entities_.entries.reserve(bytes_.size() / 64);
        for (std::size_t statements = 0;; ++statements) {
            at = skipBlank(bytes_, at);
            if (inData_)
                at = skipBlank(bytes_, ahead_->takeFrom(at, entities_));
            const Statement statement = at < bytes_.size() ? statementFrom(bytes_, at) : Statement{};
            if (statement.end == kNone) {
                if (dataSeen_ && !inData_)
                    break; // only the closing line is missing
                return fail({kTruncated,
                             "The file ends in the middle of its data, so a part of the model is missing. Ask the "
                             "sender for the whole file.",
                             name_, entities_.lastId != 0 ? "#" + std::to_string(entities_.lastId) : "",
                             bytes_.size()});
            }
            const std::size_t start = at;
            at = statement.isBroken ? statement.end : statement.end + 1;
            if ((statements & 0x3FFF) == 0) {
                if (progress_.isCancelled())
                    return fail({kCancelled, "Reading was cancelled.", name_});
                progress_.reportBytes(what, at, bytes_.size());
            }
            const std::string_view text = bytes_.substr(start, statement.end - start);
            if (statement.isBroken)
                say("step.string", start, text, "has a string that is never closed and was passed over.");
            else if (inData_ && text.starts_with('#')) {
                if (!entities_.add(start, text))
                    say("step.statement", start, text, "is not well formed and was passed over.");
            } else if (!section(text))
                break;
        }
        if (!dataSeen_)
            return fail({kTruncated, "The file has no DATA section; ask the sender for the whole file.", name_});
        return finish();
    }

private:
    void say(const char* code, std::size_t start, std::string_view text, const std::string& what)
    {
        if (++problems_ > kMostDiagnostics)
            return;
        EntityId id = 0;
        if (text.starts_with('#'))
            std::from_chars(text.data() + 1, text.data() + text.size(), id);
        found_.diagnostics.push_back({Severity::Error, code, id != 0 ? "#" + std::to_string(id) : "",
                                      "The statement at byte " + std::to_string(start) + " " + what});
    }

    /// False at the end of the exchange structure.
    bool section(std::string_view text)
    {
        const std::string word = upperCase(text.substr(0, 16));
        if (word.starts_with("DATA")) {
            inData_ = dataSeen_ = true;
            if (!ahead_)
                ahead_.emplace(bytes_, progress_);
        } else if (word.starts_with("ENDSEC"))
            inData_ = false;
        else if (word.starts_with("END-ISO-10303-21"))
            return false;
        else if (inData_)
            say("step.statement", static_cast<std::size_t>(text.data() - bytes_.data()), text,
                "is not well formed and was passed over.");
        else
            header(text, word);
        return true;
    }

    void header(std::string_view text, const std::string& word)
    {
        const std::size_t open = text.find('(');
        if (open == kNone)
            return;
        std::string problem;
        const Instance instance = parseArguments(text.substr(open), problem);
        const Value arguments = instance.arguments();
        if (word.starts_with("FILE_SCHEMA") && found_.header.schema.empty()) {
            found_.header.schema = upperCase(arguments[0][0].text());
        } else if (word.starts_with("FILE_DESCRIPTION")) {
            for (const Value one : arguments[0]) {
                const std::string line = one.text();
                const std::size_t from = line.find('['), to = line.find(']');
                if (upperCase(line).starts_with("VIEWDEFINITION") && from < to && to != kNone)
                    found_.header.viewDefinition = line.substr(from + 1, to - from - 1);
            }
        } else if (word.starts_with("FILE_NAME")) {
            found_.header.name = arguments[0].text();
            found_.header.timeStamp = arguments[1].text();
            found_.header.author = arguments[2][0].text();
            found_.header.organisation = arguments[3][0].text();
            found_.header.originatingSystem = arguments[5].text();
        }
    }

    Result<Scan> finish()
    {
        found_.index = EntityIndex(std::move(entities_.entries), std::move(entities_.table.keywords), progress_);
        if (progress_.isCancelled())
            return fail({kCancelled, "Reading was cancelled.", name_});
        if (problems_ > kMostDiagnostics)
            found_.diagnostics.push_back(
                {Severity::Error, "step.statement", "",
                 "And " + std::to_string(problems_ - kMostDiagnostics) + " more statements are not well formed."});
        if (found_.index.repeated() > 0)
            found_.diagnostics.push_back({Severity::Error, "step.repeated-id", "",
                                          std::to_string(found_.index.repeated()) +
                                              " entities repeat a number that is already used; the first of each "
                                              "counts."});
        return std::move(found_);
    }

    std::string_view bytes_;
    const std::string& name_;
    Progress& progress_;
    EntityTable entities_;
    std::optional<ScanAhead> ahead_; ///< from the first data on
    Scan found_;
    std::size_t problems_ = 0;
    bool inData_ = false, dataSeen_ = false;
};

} // namespace

Result<Scan> scan(std::string_view bytes, const std::string& name, Progress& progress)
{
    return Scanner(bytes, name, progress).run();
}

} // namespace wendrix::step
