#pragma once

#include <QKeyEvent>

namespace wendrix::app {

/// Letters and digits are the window's keys, wherever the focus is but in a field.
[[nodiscard]] inline bool isPlainLetter(const QKeyEvent& event)
{
    return !event.text().isEmpty() && event.modifiers() == Qt::NoModifier && event.text()[0].isLetterOrNumber();
}

/// A view of items that leaves letters and digits to the window instead of searching by them.
template <class View>
class LeavesLetters final : public View {
public:
    using View::View;

protected:
    void keyboardSearch(const QString&) override {}
    void keyPressEvent(QKeyEvent* event) override
    {
        if (isPlainLetter(*event))
            event->ignore();
        else
            View::keyPressEvent(event);
    }
};

} // namespace wendrix::app
