#pragma once

#include "shell/stage.h"

class QPlainTextEdit;

namespace wendrix::app {

/// Issues: the list, one issue whole with its evidence, comments and status; BCF out and in.
class IssuesStage final : public ListStage {
    Q_OBJECT
public:
    IssuesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "message-square-text"; }
    [[nodiscard]] int waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

    /// Writes all issues as BCF 2.1. @return whether it went well
    bool exportTo(const QString& file);
    /// Takes over what came back.
    bool importFrom(const QString& file);

private:
    void showChosenRow() override { show(true); }
    struct Item {
        issues::Issue issue;
        issues::Evidence evidence;
        std::vector<project::Pair> pairs;
    };
    void fillList();
    void show(bool movesView);
    void showDetails(const Item& item);
    void addEvidence(const Item& item);
    void setStatus(const char* status, const QString& comment);
    void sendComment();
    void askExport();
    void askImport();
    [[nodiscard]] const Item* chosen() const;

    QString filter_ = "open";
    std::vector<Item> items_;
    QPlainTextEdit* comment_ = nullptr; ///< in the details; theirs
};

} // namespace wendrix::app
