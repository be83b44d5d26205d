#pragma once

#include <QVector>
#include <QWidget>

#include <functional>

namespace wendrix::app {

/// One line of what is known: a name and its value; `go` where it can be followed.
struct Fact {
    QString name, value;
    std::function<void()> go;
};

struct FactGroup {
    QString heading;
    QVector<Fact> facts;
};

/// Facts in groups, with a field that leaves those that hold what is typed. All of it can be copied.
class FactList final : public QWidget {
    Q_OBJECT
public:
    explicit FactList(QVector<FactGroup> groups, QWidget* parent = nullptr);
    void filter(const QString& words);
    [[nodiscard]] QString asText() const; ///< what shows, with tabs

private:
    struct Row {
        QWidget *name, *value;
        QString text;
    };
    struct Group {
        QWidget* heading;
        QVector<Row> rows;
    };
    QVector<FactGroup> facts_;
    QVector<Group> groups_;
    QString filter_;
};

} // namespace wendrix::app
