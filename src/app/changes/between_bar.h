#pragma once

#include <QWidget>

class QPushButton;
class QSlider;

namespace wendrix::app {

/// Under the list: what was, what is, or somewhere between.
class BetweenBar final : public QWidget {
    Q_OBJECT
public:
    explicit BetweenBar(QWidget* parent = nullptr);
    [[nodiscard]] double at() const; ///< 0 before, 0.5 both, 1 after
    void setAt(double at);

signals:
    void moved(double at);
    void twoViewsWanted(bool isOn);

private:
    QSlider* slider_;
    QPushButton *before_, *both_, *after_, *two_;
    void showWhich();
};

} // namespace wendrix::app
