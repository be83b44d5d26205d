#pragma once

#include "changes/change_look.h"
#include "shell/stage.h"

namespace wendrix::app {

class DocumentView;

/// The inside of a delivery that is not taken in yet: its contents by class and by storey, what is wrong with it, what
/// changed against the team's delivery before, its documents. What is chosen is shown in the scene.
class InsidePage final : public QObject {
    Q_OBJECT
public:
    InsidePage(const StageContext& context, DocumentView& document, QObject* parent);

    [[nodiscard]] Worklist* list() { return list_; }
    enum class Tab { Classes, Storeys, Quality, Changes, Documents };
    [[nodiscard]] Tab tab() const { return tab_; }
    void setTab(Tab tab);
    /// Another delivery, or none any more.
    void refresh();
    /// Scene and details of what is chosen.
    void show(bool movesView);
    void step(int by) { list_->step(by); }
    /// Writes the quality report where a person chooses.
    void exportReport();
    void addSpecifications();
    /// Of the finding that is chosen.
    [[nodiscard]] std::optional<IssueStart> issueStart() const;

signals:
    void takeInWanted();
    void declineWanted();
    void leaveOutWanted();
    void closeWanted();

private:
    struct Part {
        const federation::Member* member;
        std::uint32_t index; ///< in the scene
    };
    [[nodiscard]] const project::Inside& inside() const { return *at_.session.inside(); }
    [[nodiscard]] std::vector<Part> parts() const;
    [[nodiscard]] std::optional<view::ElementKey> find(const ElementRef& element) const;
    [[nodiscard]] std::optional<view::ElementKey> findBefore(const project::ChangeRecord& change) const;
    [[nodiscard]] std::vector<view::ElementKey> elementsOf(std::size_t model,
                                                           std::span<const checks::Concerned> concerned) const;
    void fillList();
    [[nodiscard]] QVector<Row> contents(bool byStorey) const;
    [[nodiscard]] QVector<Row> qualityRows() const;
    [[nodiscard]] QVector<Row> changeRows() const;
    [[nodiscard]] QVector<Row> documentRows() const;
    void showDetails();
    void showDocument(const QString& id);
    void showFinding(const QString& id);
    void showContents(const QString& id);
    void addConcerned(std::size_t model, const std::vector<checks::Concerned>& concerned, std::size_t count);
    [[nodiscard]] const std::vector<checks::Concerned>* concernedOf(const QString& id, std::size_t& model) const;

    StageContext at_;
    DocumentView& document_;
    Worklist* list_; ///< the stage's
    Tab tab_ = Tab::Classes;
    QString lastFolder_;
};

} // namespace wendrix::app
