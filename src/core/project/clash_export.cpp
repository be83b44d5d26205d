#include "core/project/clash_export.h"

#include "core/base/csv.h"
#include "core/base/file.h"
#include "core/base/temporary.h"

#include <fmt/format.h>
#include <xlsxwriter.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <system_error>

namespace wendrix::project {

namespace {

constexpr const char* kColumns[] = {
    "Group",  "Test",        "Kind",       "State",        "Decision",     "Reason",         "Decided by",
    "Storey", "Bay",         "Depth (mm)", "Free (mm)",    "Wanted (mm)",  "X (m)",          "Y (m)",
    "Z (m)",  "Left",        "Left class", "Left type",    "Left system",  "Left member",    "Left GlobalId",
    "Right",  "Right class", "Right type", "Right system", "Right member", "Right GlobalId", "Pair"};

std::string millimetres(double metres) { return fmt::format("{:.1f}", metres * 1000); }

std::vector<std::string> rowOf(const Pair& p, const std::string& group)
{
    const auto isOf = [&](clash::Kind kind, double metres) {
        return p.kind == kind ? millimetres(metres) : std::string();
    };
    std::vector<std::string> row{group,
                                 p.test,
                                 std::string(clash::nameOf(p.kind)),
                                 p.stateInWords(),
                                 p.decision,
                                 p.reason,
                                 p.decision.empty() ? std::string() : p.decidedBy.person,
                                 p.storey,
                                 p.bay,
                                 isOf(clash::Kind::Hard, p.depth),
                                 isOf(clash::Kind::Clearance, p.distance),
                                 isOf(clash::Kind::Clearance, p.clearance),
                                 fmt::format("{:.3f}", p.point.x),
                                 fmt::format("{:.3f}", p.point.y),
                                 fmt::format("{:.3f}", p.point.z)};
    for (const PairSide* side : {&p.left, &p.right})
        for (const std::string& text :
             {side->name, side->className, side->type, side->system, side->memberTitle(), side->element.guid})
            row.push_back(text);
    row.push_back(std::to_string(p.id));
    return row;
}

std::optional<double> numberIn(const std::string& text)
{
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    return !text.empty() && code == std::errc{} && end == text.data() + text.size() && std::isfinite(value)
               ? std::optional(value)
               : std::nullopt;
}

/// Without signs that XML can not hold.
std::string printable(std::string text)
{
    std::erase_if(text, [](char c) { return static_cast<unsigned char>(c) < 0x20 && c != '\t' && c != '\n'; });
    return text;
}

} // namespace

Result<std::vector<std::vector<std::string>>> tableOf(const ClashesBook& clashes, const ClashList& list)
{
    std::vector<std::string> ids;
    for (std::size_t row = 0; row < list.rowCount(); ++row)
        ids.push_back(list.idOf(row));
    const std::vector<PairId> pairs = list.pairsOf(ids);
    return tableOf(clashes, list, pairs);
}

Result<std::vector<std::vector<std::string>>> tableOf(const ClashesBook& clashes, const ClashList& list,
                                                      std::span<const PairId> pairs)
{
    std::vector<std::vector<std::string>> table{{std::begin(kColumns), std::end(kColumns)}};
    const auto read = clashes.get(pairs);
    if (!read)
        return fail(read.error());
    std::map<const ClashList::Group*, std::string> titles;
    for (const Pair& p : *read) {
        const ClashList::Group* group = list.groupOf(std::to_string(p.id));
        auto& title = titles[group];
        if (title.empty() && group != nullptr) {
            auto words = list.titleOf(clashes, *group);
            if (!words)
                return fail(words.error());
            title = std::move(*words);
        }
        table.push_back(rowOf(p, title));
    }
    return table;
}

std::string toCsv(const std::vector<std::vector<std::string>>& table)
{
    std::string csv;
    for (const auto& row : table) {
        for (std::size_t k = 0; k < row.size(); ++k)
            csv += (k > 0 ? "," : "") + csvCell(row[k]);
        csv += "\r\n";
    }
    return csv;
}

std::string toTabs(const std::vector<std::vector<std::string>>& table)
{
    std::string text;
    for (const auto& row : table) {
        for (std::size_t k = 0; k < row.size(); ++k) {
            std::string cell = withoutFormula(row[k]);
            std::replace_if(
                cell.begin(), cell.end(), [](char c) { return c == '\t' || c == '\n' || c == '\r'; }, ' ');
            text += (k > 0 ? "\t" : "") + cell;
        }
        text += "\n";
    }
    return text;
}

Result<void> writeXlsx(const std::vector<std::vector<std::string>>& table, const std::filesystem::path& file,
                       const std::string& sheetName)
{
    // Written beside and put in place whole, so that what was there is not lost to a full disk.
    auto beside = Temporary::fileBeside(file);
    if (!beside)
        return fail(beside.error());
    lxw_workbook_options options{};
    options.constant_memory = LXW_TRUE;
    lxw_workbook* book = workbook_new_opt(beside->path().c_str(), &options);
    const auto refused = [&](const std::string& why) -> Result<void> {
        return fail({kFileUnwritable, "The workbook can not be written: " + why + ".", file.string()});
    };
    if (book == nullptr)
        return refused("there is no memory for it");
    lxw_worksheet* sheet = workbook_add_worksheet(book, sheetName.substr(0, 31).c_str());
    lxw_format* bold = workbook_add_format(book);
    format_set_bold(bold);
    worksheet_freeze_panes(sheet, 1, 0);
    if (!table.empty())
        worksheet_set_column(sheet, 0, static_cast<lxw_col_t>(table[0].size() - 1), 18, nullptr);
    constexpr std::size_t kLongestCell = 32'000; // of the format: 32 767 signs
    // A name of digits stays a name: numbers stand only under a unit.
    const auto isNumeric = [&](std::size_t c) { return table[0][c].ends_with(")") || table[0][c] == "Pair"; };
    for (std::size_t r = 0; r < table.size(); ++r)
        for (std::size_t c = 0; c < table[r].size(); ++c) {
            const auto row = static_cast<lxw_row_t>(r);
            const auto column = static_cast<lxw_col_t>(c);
            const std::string& cell = table[r][c];
            if (const auto number = r > 0 && c < table[0].size() && isNumeric(c) ? numberIn(cell) : std::nullopt)
                worksheet_write_number(sheet, row, column, *number, nullptr);
            else if (!cell.empty())
                worksheet_write_string(sheet, row, column, printable(cell.substr(0, kLongestCell)).c_str(),
                                       r == 0 ? bold : nullptr);
        }
    if (const lxw_error error = workbook_close(book); error != LXW_NO_ERROR)
        return refused(lxw_strerror(error));
    return beside->putInPlace(file);
}

} // namespace wendrix::project
