#pragma once

#include <QWidget>

#include "shell/rows.h"

#include <functional>

class QGridLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace wendrix::app {

/// A button of the details: the key is shown, the window listens to it.
struct DetailsButton {
    QString id, words, key;
    bool isLoud = false, isEnabled = true;
    std::function<void()> press;
};

/// One part of the details, from top to bottom.
struct DetailsPart {
    enum class Kind { Caption, Title, Heading, Text, SoftText, Fact, Buttons, Table, Widget };

    Kind kind = Kind::Text;
    QString words, value, second; ///< a fact has a name, a value, and perhaps a second line
    Mark mark = Mark::None;
    QString markText;
    QColor markColour;
    QVector<DetailsButton> buttons;
    QString name; ///< of a table
    QStringList header;
    QVector<QStringList> rows;
    QWidget* widget = nullptr; ///< the page's, once it is made
};

/// What is written in the details: made once for a shape of parts, then written again. Going from one thing to the next
/// of its kind happens all day, and thirty labels made anew are most of what a step costs the interface thread.
class DetailsPage final : public QWidget {
    Q_OBJECT
public:
    explicit DetailsPage(const QVector<DetailsPart>& parts, QWidget* parent = nullptr);

    /// @return false where these parts need other widgets; then nothing was written
    bool write(const QVector<DetailsPart>& parts);

private:
    class MarkBox;
    void add(const DetailsPart& part, bool isNewList);
    QLabel* addLabel(QLabel* label);
    void put(const DetailsPart& part);

    QVector<DetailsPart> parts_;
    QVBoxLayout* layout_;
    QGridLayout* facts_ = nullptr;
    // In the order in which they were made; put() walks them.
    QVector<QLabel*> labels_;
    QVector<MarkBox*> marks_;
    QVector<QPushButton*> buttons_;
    QVector<std::function<void()>> presses_;
    qsizetype label_ = 0, mark_ = 0, button_ = 0;
};

} // namespace wendrix::app
