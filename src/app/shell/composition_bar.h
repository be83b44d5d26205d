#pragma once

#include <QWidget>

class QHBoxLayout;
class QLabel;
class QProgressBar;
class QPushButton;

namespace wendrix::app {

/// The bottom bar: one chip a member, running work with cancel, and the place under the cursor.
class CompositionBar final : public QWidget {
    Q_OBJECT
public:
    explicit CompositionBar(QWidget* parent = nullptr);
    struct Chip {
        QString discipline, words, tip;
        QColor colour;
        bool isBehind = false;
        bool isShown = true;
    };
    void setChips(const QVector<Chip>& chips);
    void setProgress(const QString& what, int percent);
    void setIdle();
    void say(const QString& words, bool isProblem);
    void setPlace(const QString& words);

signals:
    void chipClicked(const QString& discipline);
    void cancelled();

private:
    QHBoxLayout* chips_;
    QLabel *words_, *place_;
    QPushButton* cancel_;
};

} // namespace wendrix::app
