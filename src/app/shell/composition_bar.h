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
        QStringList states; ///< beside the revision: "held, 2 behind", "not aligned", "1 newer"
        bool isLoud = false; ///< what must not be overlooked
        QString signs;      ///< the same where there is no room for words: "■2"
        QString tip;
        QColor colour;
        bool isLocked = false; ///< aligned and locked
        bool isShown = true;
    };
    /// Where one line does not do for all of them whole, those that only say what is in use are shortened first; where that
    /// does not do either, they take two lines.
    void setChips(const QVector<Chip>& chips);
    void setProgress(const QString& what, int percent);
    void setIdle();
    void say(const QString& words, bool isProblem);
    void setPlace(const QString& words);

protected:
    void resizeEvent(QResizeEvent* event) override;

signals:
    void heightChanged();
    void chipClicked(const QString& discipline);
    void cancelled();

private:
    void arrange();
    QVector<MemberChip*> members_; ///< ours
    QWidget* side_;                ///< what stands right of them
    ElidedLabel* words_;
    QLabel* place_;
    QPushButton* cancel_;
    bool isProblem_ = false;
};

} // namespace wendrix::app
