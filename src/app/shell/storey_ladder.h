#pragma once

#include <QMap>
#include <QStringList>
#include <QWidget>

namespace wendrix::app {

/// The storeys as rungs at their true relative heights, each with the stage's count. Click: only that storey;
/// double click: all.
class StoreyLadder final : public QWidget {
    Q_OBJECT
public:
    explicit StoreyLadder(QWidget* parent = nullptr);
    struct Rung {
        QString name;
        double height = 0; ///< metres
    };
    void setRungs(QVector<Rung> rungs); ///< lowest first
    void setCounts(QMap<QString, int> counts);
    void setChosen(const QString& storey);
    [[nodiscard]] const QString& chosen() const { return chosen_; }
    [[nodiscard]] QRect areaOf(const QString& storey) const;
    /// The storeys whose names are written: all where there is room; else the chosen one, the ends, and those with the
    /// most.
    [[nodiscard]] QStringList named() const;
    [[nodiscard]] QRect nameRect(int rung) const; ///< where a rung's name and count are written

signals:
    void storeyChosen(const QString& storey); ///< empty for all

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] int yOf(int rung) const;
    [[nodiscard]] int rungAt(int y) const; ///< -1 where none is near
    [[nodiscard]] QVector<bool> whichAreNamed() const;
    QVector<Rung> rungs_;
    QMap<QString, int> counts_;
    QString chosen_;
};

} // namespace wendrix::app
