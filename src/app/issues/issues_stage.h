#pragma once

#include "shell/stage.h"

#include "core/project/issue_list.h"

class QPlainTextEdit;

namespace wendrix::app {

/// Issues: the list, one issue whole with its evidence, comments and status; BCF out and in.
class IssuesStage final : public ListStage {
    Q_OBJECT
public:
    IssuesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "message-square-text"; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    void choose(const QString& id) override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "clashes.md"; }

    /// Writes all issues as BCF 2.1, beside everything else.
    void exportTo(const QString& file);
    /// Takes over what came back.
    void importFrom(const QString& file);

private:
    void refresh() override;
    void showChosenRow() override { show(true); }
    /// One issue with all that is known of it.
    struct Item {
        issues::Issue issue;
        issues::Evidence evidence;
        std::vector<project::Pair> pairs;
    };
    void fillList();
    void show(bool movesView);
    void showDetails(const Item& item);
    void addEvidence(const Item& item);
    void addComments(const Item& item);
    void setStatus(const char* status, const QString& comment);
    void sendComment();
    void askExport();
    void askImport();
    [[nodiscard]] std::optional<Item> chosen() const;

    QString filter_ = "open", wanted_; ///< wanted: the row to choose once it is there
    std::shared_ptr<const project::IssueList> issues_ = std::make_shared<project::IssueList>();
    QPlainTextEdit* comment_ = nullptr; ///< in the details; theirs
    QString shown_;                     ///< the issue the details tell of
    QMap<QString, QString> drafts_;     ///< comments begun, by issue: they outlast whatever happens elsewhere
};

} // namespace wendrix::app
