#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace wendrix::app {

class ElidedLabel;
class MemberChip;

/// The bottom bar: one chip a member, running work with cancel, and the place under the cursor.
class CompositionBar final : public QWidget {
    Q_OBJECT
public:
    explicit CompositionBar(QWidget* parent = nullptr);
    struct Chip {
        QString discipline, revision;
        QStringList states;  ///< beside the revision: "held, 2 behind", "not aligned", "1 newer"
        bool isLoud = false; ///< what must not be overlooked
        QString signs;       ///< the same where there is no room for words: "■2"
        QString tip;
        QColor colour;
        bool isLocked = false; ///< aligned and locked
        bool isShown = true;
    };
    /// Where one line does not do for all of them whole, those that only say what is in use are shortened first; where
    /// that does not do either, they take two lines.
    void setChips(const QVector<Chip>& chips);
    struct Work {
        int id = 0;
        QString words;
        int percent = 0;
    };
    /// What runs, oldest first: each with its progress, and each can be cancelled.
    void setWork(const QVector<Work>& work);
    void say(const QString& words, bool isProblem);
    /// Where the cursor is, told in several ways; a click on it goes to the next.
    void setPlace(const QStringList& readings);

protected:
    void resizeEvent(QResizeEvent* event) override;

signals:
    void heightChanged();
    void chipClicked(const QString& discipline);
    void chipMenuWanted(const QString& discipline, const QPoint& global); ///< a right click
    void cancelled(int id);                                               ///< of the work

private:
    void showReading();
    void arrange();
    void askWhichToCancel();
    QVector<MemberChip*> members_; ///< ours
    QWidget* side_;                ///< what stands right of them
    ElidedLabel* words_;
    QPushButton* place_;
    QStringList readings_;
    int reading_ = 0;
    QPushButton* cancel_;
    QVector<Work> work_;
    bool isProblem_ = false;
};

} // namespace wendrix::app
