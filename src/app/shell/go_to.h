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
        std::function<void()> go;
    };
    /// Given what was typed, the best hits first.
    using Search = std::function<QVector<Hit>(const QString&)>;
    explicit GoTo(Search search, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void find();
    void go(int row);
    Search search_;
    QVector<Hit> hits_;
    QListWidget* popup_;
};

} // namespace wendrix::app
