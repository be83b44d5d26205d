#pragma once

#include <QLineEdit>

#include <functional>

class QListWidget;

namespace wendrix::app {

/// The field in the head: finds elements, issues, clashes and commands as one types.
class GoTo final : public QLineEdit {
    Q_OBJECT
public:
    struct Hit {
        QString words, kind;
        std::function<void()> go; ///< nothing where it only says something
        QString completed = {};   ///< what then stands in the field, which is gone on with
    };
    /// Given what was typed: what is found at once, best first. What takes longer comes by add().
    using Search = std::function<QVector<Hit>(const QString&)>;
    explicit GoTo(Search search, QWidget* parent = nullptr);
    /// More hits for what was typed; nothing where something else stands there by now.
    void add(const QString& words, const QVector<Hit>& hits, bool isAll);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void find();
    /// What stands there, without blanks before it, and with one behind it where the last word is finished.
    [[nodiscard]] QString typed() const;
    void show();
    void go(int row);
    Search search_;
    QVector<Hit> hits_;
    bool isAll_ = true;       ///< nothing more is to come
    bool isGoWanted_ = false; ///< Enter was pressed before anything was found
    QListWidget* popup_;
};

} // namespace wendrix::app
