#pragma once

#include "core/issues/workflow.h"

#include <QMap>
#include <QWidget>

#include <functional>

class QComboBox;
class QLineEdit;
class QPlainTextEdit;

namespace wendrix::app {

class Form;

/// The fields of one issue, or of several at once: each is kept as it is left. What is being typed stays, whatever else
/// changes the issue meanwhile.
class IssueForm final : public QWidget {
    Q_OBJECT
public:
    /// What may be chosen; anything else may be written.
    struct Choices {
        issues::Workflow workflow;
        std::vector<std::string> people; ///< people, groups, disciplines
        std::vector<std::string> storeys;
        std::function<QString(const std::string& uuid)> nameOf;      ///< "MSS-004"; empty where it is not here
        std::function<QStringList(const QString& begun)> findIssues; ///< "MSS-004 Duct through the beam"
    };
    /// @param drafts   texts that were begun, by field
    /// @param isOfOne  else it has no title: several of one title could not be told apart
    IssueForm(const Choices& choices, const issues::Issue& issue, const QMap<QString, QString>& drafts, bool isOfOne,
              QWidget* parent = nullptr);

    /// Shows what it is now, but for the field that is being written in and those that were begun.
    void setIssue(const issues::Issue& issue);
    /// What was written in a field that nobody left yet.
    void keepBegun();

signals:
    void typed(const QString& field, const QString& text);
    /// A field was left with another text.
    void committed(const QString& field, const QString& text);

private:
    void addLine(const QString& field, const QString& words, const QString& text, const QString& hint = {});
    void addChoice(const QString& field, const QString& words, const std::vector<std::string>& values,
                   const QString& text);
    void addText(const QString& field, const QString& words, const QString& text, int lines);
    [[nodiscard]] QString relatedText(const issues::Issue& issue) const;
    [[nodiscard]] QString begun(const QString& field, const QString& kept);
    bool eventFilter(QObject* watched, QEvent* event) override;
    void commit(const QString& field, const QString& text);

    Form* form_;
    QMap<QString, QLineEdit*> lines_;
    QMap<QString, QComboBox*> choices_;
    QMap<QString, QPlainTextEdit*> texts_;
    QMap<QString, QString> kept_, drafts_; ///< by field
    std::vector<std::string> custom_;
    std::function<QString(const std::string&)> nameOf_;
};

/// What a field of an issue says, as it is written in the form: "due" a day, "labels" with commas.
[[nodiscard]] QString fieldText(const issues::Issue& issue, const QString& field);
/// Puts such a text into an issue. @return what is wrong with it, or nothing
[[nodiscard]] QString setField(issues::Issue& issue, const QString& field, const QString& text);

} // namespace wendrix::app
