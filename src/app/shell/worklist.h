#pragma once

#include <QListView>
#include <QWidget>

#include "shell/rows.h"

class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace wendrix::app {

/// A stage's list: title, figures, filter chips, a line on how it is ordered, and the rows.
///
/// J and K go to the next and previous row, also from elsewhere in the window; what choosing means is up to
/// whoever listens.
class Worklist final : public QWidget {
    Q_OBJECT
public:
    explicit Worklist(const QString& title, QWidget* parent = nullptr);

    struct Figure {
        QString number, words;
        bool isLoud = false;
    };
    void setFigures(const QVector<Figure>& figures);
    struct Chip {
        QString id, words;
        bool isOn = false;
    };
    /// One chip is on at a time.
    void setChips(const QVector<Chip>& chips);
    void setCaption(const QString& words);
    void setText(const QString& richText); ///< below the title, instead of figures
    /// Keeps the chosen row if it is still there.
    /// @param isNextChosen  where it is not: chooses what stands in its place now, or the last row
    void setSource(std::shared_ptr<const RowSource> source, bool isNextChosen = false);
    void setRows(QVector<Row> rows) { setSource(std::make_shared<FixedRows>(std::move(rows))); }
    /// What an empty list says: what to do next.
    void setEmptyText(const QString& words);
    void setFooter(QWidget* footer);
    void setBar(QWidget* bar);       ///< between chips and caption
    void addButton(QWidget* button); ///< beside the title
    void choose(const QString& id);
    void step(int by);
    void focusFilter(); ///< the chip that is on, from where arrows and Space choose another
    [[nodiscard]] QString chosen() const;
    [[nodiscard]] QStringList chosenAll() const;
    [[nodiscard]] const RowModel& model() const { return *model_; }
    [[nodiscard]] QListView& view() { return *view_; }

signals:
    void rowChosen(const QString& id);
    void rowOpened(const QString& id); ///< Enter or double click
    void chipChosen(const QString& id);
    void linkChosen(const QString& link); ///< of the text

private:
    void announce();
    RowModel* model_;
    QListView* view_;
    QLabel *text_, *caption_, *empty_;
    QHBoxLayout *figures_, *titleRow_;
    QVBoxLayout* head_;
    QWidget* chips_;
    QVector<Figure> shownFigures_;
    QVector<QLabel*> numbers_; ///< of the figures
    QVector<Chip> shownChips_;
    QVector<QPushButton*> chipButtons_;
    QVBoxLayout* layout_;
    bool isQuiet_ = false, isAnnounced_ = false;
};

} // namespace wendrix::app
