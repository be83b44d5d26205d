#pragma once

#include <QWidget>

class QHBoxLayout;
class QLabel;
class QProgressBar;
class QPushButton;

namespace wendrix::app {

class MemberChip;

/// The bottom bar: one chip a member, running work with cancel, and the place under the cursor.
class CompositionBar final : public QWidget {
    Q_OBJECT
public:
    explicit CompositionBar(QWidget* parent = nullptr);
    struct Chip {
        QString discipline, revision;
        QStringList states; ///< what must not be overlooked: "held, 2 behind", "not aligned"
        QString signs;      ///< the same where there is no room for words: "■2"
        QString tip;
        QColor colour;
        bool isLocked = false; ///< aligned and locked
        bool isShown = true;
    };
    /// Where the room does not do for all of them whole, those that only say what is in use are shortened first.
    void setChips(const QVector<Chip>& chips);
    void setProgress(const QString& what, int percent);
    void setIdle();
    void say(const QString& words, bool isProblem);
    void setPlace(const QString& words);

protected:
    void resizeEvent(QResizeEvent* event) override;

signals:
    void chipClicked(const QString& discipline);
    void cancelled();

private:
    void shorten();
    QVector<MemberChip*> members_; ///< ours, through the layout
    QHBoxLayout* chips_;
    QLabel *words_, *place_;
    QPushButton* cancel_;
};

} // namespace wendrix::app
