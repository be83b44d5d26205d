#pragma once

#include <QWidget>

class QVBoxLayout;

namespace wendrix::app {

class StageButton;

/// The rail on the left: the stages in the order of the week, each with what still waits for the person.
class StageRail final : public QWidget {
    Q_OBJECT
public:
    explicit StageRail(QWidget* parent = nullptr);
    void addStage(const QString& title, const QString& iconName);
    void setCurrent(int index);
    void setWaiting(int index, int count);

signals:
    void stageChosen(int index);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QVBoxLayout* layout_;
    QVector<StageButton*> buttons_;
};

} // namespace wendrix::app
