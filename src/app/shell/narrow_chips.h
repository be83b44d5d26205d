#pragma once

#include <QWidget>

#include <functional>

namespace wendrix::app {

/// What a list is narrowed to: one chip each, that takes it away.
class NarrowChips final : public QWidget {
    Q_OBJECT
public:
    explicit NarrowChips(QWidget* parent = nullptr);
    void clear();
    /// @param name  the button is found as "narrowed" and this
    void add(const QString& name, const QString& words, std::function<void()> takeAway);
    void finish(); ///< seen where there is a chip
};

} // namespace wendrix::app
