#pragma once

#include "shell/stage.h"

namespace wendrix::app {

class Form;

/// What is agreed about the project's issues: their statuses, who moves them where, what fields may say, what issues
/// begin with, and in which coordinates viewpoints are handed over. Each field is kept as it is left.
class AgreedPage final : public QObject {
    Q_OBJECT
public:
    AgreedPage(const StageContext& context, QObject* parent);

    [[nodiscard]] Worklist* list() { return list_; }
    /// Reads the project anew and fills its list.
    void refresh();
    /// Its choice in the details. To be called while it is in front only.
    void show();
    void setFront(bool isFront);
    bool press(Qt::Key key);

signals:
    void left();

private:
    struct Read {
        issues::Workflow workflow;
        std::vector<issues::IssueTemplate> templates;
        std::vector<std::string> people;           ///< people, groups and disciplines
        std::map<std::string, std::size_t> inUse;  ///< issues by status
        std::map<std::string, std::size_t> filled; ///< issues by field of the project's own that says something
    };
    /// What the thing a form is of is called by now: it may have been given another name in that very form.
    using Called = std::shared_ptr<std::string>;
    void fill();
    void showAgain();                       ///< what is in the details became another
    [[nodiscard]] QString shownNow() const; ///< what the form in the details is of, to see whether it became another
    /// Rows are called by what they are of, which others may put elsewhere.
    [[nodiscard]] static QString idOf(const char* kind, const std::string& name)
    {
        return QString(kind) + "|" + QString::fromStdString(name);
    }
    [[nodiscard]] static std::string nameOf(const QString& id) { return id.section('|', 1).toStdString(); }

    void showStatus(const issues::Status& status);
    void showLists();
    void showField(const issues::CustomField& field);
    void showCoordinates();
    void addStatus();
    void addField();
    void removeStatus(const std::string& name);
    void removeField(const std::string& name);
    void moveStatus(const std::string& name, int by);
    /// One change of what is agreed, kept as what was done; a mistake is said, and nothing of it kept.
    void change(const std::string& what, const std::function<void(issues::Workflow&)>& edit,
                const project::WorkflowRenames& renamed = {});
    void load();
    void save();

    void addTemplateRows(QVector<Row>& rows) const;
    void showTemplate(const issues::IssueTemplate& t);
    void addRules(Form& form, const issues::IssueTemplate& t, const Called& name);
    [[nodiscard]] issues::IssueTemplate* templateCalled(const std::string& name); ///< as it was read; may be none
    void changeTemplate(const Called& name, const std::function<void(issues::IssueTemplate&)>& edit);
    void addTemplate();
    void saveTemplate(const std::string& name);
    void loadTemplate(const std::string& text, const QString& file);

    StageContext at_;
    Worklist* list_;
    Read read_;
    QString filter_ = "statuses", wanted_;
    bool isFront_ = false;
    QString shown_, shownAs_; ///< the row whose form is in the details, and what it says
};

} // namespace wendrix::app
