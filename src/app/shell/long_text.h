#pragma once

#include <QString>

class QLineEdit;
class QWidget;

/// Names, titles and descriptions come from outside and may be of hundreds of kilobytes: measuring and breaking one
/// whole takes longer than a frame. Lists show its ends, panels its beginning, and a window of its own all of it.
namespace wendrix::app {

inline constexpr qsizetype kMostInLine = 600;    ///< no line is as wide
inline constexpr qsizetype kMostInPanel = 4'000; ///< some screens of a panel

/// What of a long text can be seen in a line at all: how it begins and how it ends.
[[nodiscard]] QString endsOf(const QString& text, qsizetype most = kMostInLine);

/// A tip that is shown as it is written, cut where no screen has room for it.
[[nodiscard]] QString tipOf(const QString& text);

/// Puts a text into a field whole, however long: what is kept again where only something else was changed is not cut.
void setWhole(QLineEdit& field, const QString& text);

/// Shows the whole text in a window of its own, to read, search in and copy. Escape closes it.
void showWhole(QWidget* over, const QString& text);

} // namespace wendrix::app
