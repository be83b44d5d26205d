#pragma once

#include "core/checks/quality.h"

namespace wendrix::checks {

/// The rules a report is made of: each adds a finding, or nothing. For quality.cpp.
class QualityRules {
public:
    QualityRules(const ifc::Model& model, const geometry::MemberGeometry* geometry, const Expectations& expected)
        : model_(model), source_(model.source()), geometry_(geometry), expected_(expected)
    {
    }
    [[nodiscard]] std::vector<Finding> run(Progress& progress);

private:
    void schema();
    void units();
    void extent();
    void storeys();
    void outsideStoreys();
    void globalIds();
    void proxies();
    void properties();
    void dimensionsInNames();
    void georeference();
    void bodies();
    void twice();

    /// Adds a finding with everything that was gathered, unless that is nothing.
    void add(Severity severity, const char* code, std::string title, std::string advice,
             std::vector<Concerned> concerned);
    void say(Severity severity, const char* code, std::string title, std::string advice); ///< of the file as a whole
    [[nodiscard]] Concerned element(const ifc::Element& e, std::string why = {}) const;

    const ifc::Model& model_;
    const ifc::Source& source_;
    const geometry::MemberGeometry* geometry_;
    const Expectations& expected_;
    std::vector<Finding> findings_;
};

} // namespace wendrix::checks
