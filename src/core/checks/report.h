#pragma once

#include "core/base/who_and_when.h"
#include "core/checks/quality.h"

/// Quality reports as they go back to a sender.
namespace wendrix::checks {

struct ModelReport {
    std::string fileName;
    QualityReport quality;
};

struct DeliveryReport {
    std::string project, delivery, title, sender;
    Timestamp delivered;
    WhoAndWhen by;
    std::vector<ModelReport> models;
};

/// "fault", "warning", "note".
[[nodiscard]] std::string severityInWords(Severity severity);

/// One HTML page that needs nothing beside it; all text from models is escaped.
[[nodiscard]] std::string toHtml(const DeliveryReport& report);
/// A row for each element concerned, or for the finding where it concerns none; RFC 4180, UTF-8 with a mark for
/// spreadsheets.
[[nodiscard]] std::string toCsv(const DeliveryReport& report);

} // namespace wendrix::checks
