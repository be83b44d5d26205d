#pragma once

#include <QScrollArea>

#include "shell/rows.h"

#include <functional>

class QGridLayout;
class QPushButton;
class QVBoxLayout;

namespace wendrix::app {

/// The selected thing, whole: built anew from top to bottom each time something else is selected.
class Details final : public QScrollArea {
    Q_OBJECT
public:
    explicit Details(QWidget* parent = nullptr);

    void clear();
    /// Says whose content this is until it is cleared, so that it can be written again when something changed under it.
    void setOwner(const QString& owner) { owner_ = owner; }
    [[nodiscard]] const QString& owner() const { return owner_; }
    void addCaption(const QString& words);
    void addTitle(const QString& words);
    void addHeading(const QString& words);
    void addText(const QString& words, bool isSoft = true);
    /// A name and its value; a mark may stand before the value, a soft second line under it.
    void addFact(const QString& name, const QString& value, const QString& second = {}, Mark mark = Mark::None,
                 const QColor& markColour = {}, const QString& markText = {});
    struct Button {
        QString id, words, key; ///< the key is shown, the window listens to it
        bool isLoud = false, isEnabled = true;
        std::function<void()> press;
    };
    void addButtons(const QVector<Button>& buttons);
    void addTable(const QStringList& header, const QVector<QStringList>& rows, const QString& name = {});
    void addWidget(QWidget* widget);
    void finish(); ///< after the last part: pushes everything to the top

private:
    QString owner_;
    QWidget* page_ = nullptr;
    QVBoxLayout* layout_ = nullptr;
    QGridLayout* facts_ = nullptr;
};

} // namespace wendrix::app
