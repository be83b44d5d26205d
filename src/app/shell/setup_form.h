#pragma once

#include <QWidget>

#include "core/project/setup.h"

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLineEdit;
class QPlainTextEdit;
class QRadioButton;
class QToolButton;

namespace wendrix::app {

/// Who works on a project and what was agreed: disciplines with company, people, colour and drop folder, groups of
/// people, what deliveries should be like.
class SetupForm final : public QWidget {
    Q_OBJECT
public:
    explicit SetupForm(QWidget* parent = nullptr);
    /// @param isThere  a project that exists: its disciplines keep their names and stay, and so does the reference
    void setSetup(const project::Setup& setup, bool isThere);
    /// As it is filled in; what has no field, as tests, is as it was given.
    [[nodiscard]] project::Setup setup() const;
    /// The drop folders that a person filled in by hand here, as they stand in the fields.
    [[nodiscard]] std::vector<project::Discipline> withFolderByHand() const;
    /// What could not be understood of it, as a sentence for the person; empty where all was.
    [[nodiscard]] QString problem() const;

private:
    struct Line {
        QToolButton* colour;
        QLineEdit *name, *company, *people, *folder;
        QRadioButton* reference;
        QWidget *more, *remove;
        std::vector<std::string> leftOut;
        std::string colourName;
        DisciplineId id = 0; ///< of one that is there, whatever it is called now
    };
    void addLine(const project::Discipline& discipline, bool isThere);
    void removeLine(QWidget* name);
    void arrange();

    project::Setup given_;
    QVector<Line> lines_;
    QGridLayout* grid_;
    QPlainTextEdit *groups_, *properties_;
    QLineEdit* schemas_;
    QComboBox* unit_;
    QCheckBox *georeferenced_, *dimensions_;
    bool isThere_ = false;
};

} // namespace wendrix::app
