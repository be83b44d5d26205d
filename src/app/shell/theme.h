#pragma once

#include <QColor>
#include <QIcon>
#include <QString>

class QWidget;

/// The look of Wendrix: colours, type and icons in one place.
namespace wendrix::app::theme {

inline const QColor kPaper{0xF5, 0xF2, 0xEA}, kPanel{0xFF, 0xFF, 0xFF}, kLine{0xDA, 0xD4, 0xC6}, kInk{0x1F, 0x2B, 0x30},
    kSoftInk{0x5F, 0x6B, 0x70}, kPetrol{0x17, 0x3F, 0x46}, kAction{0xC8, 0x50, 0x1E}, kFocus{0x2B, 0x7A, 0x84},
    kChosenRow{0xE7, 0xEF, 0xEE}, kInnerRow{0xFC, 0xFA, 0xF5};
inline const QColor kLeft{0x0E, 0x8C, 0x86}, kRight{0xC2, 0x3B, 0x72}, kOverlap{0xF0, 0xB4, 0x00};
inline const QColor kAdded{0x6D, 0x4B, 0xC3}, kRemoved{0xB0, 0x68, 0x1A}, kReshaped{0x15, 0x8A, 0x8C},
    kMoved{0xC2, 0x3B, 0x72}, kRedescribed{0x58, 0x68, 0x74};

/// Installs the fonts, the palette and the style sheet on the application.
void apply();
/// One of the bundled icons by name, in a colour, 1.5 px stroke.
[[nodiscard]] QPixmap icon(const QString& name, const QColor& colour, int size, double ratio);
/// 11, 13, 15 or 20 px, tabular figures.
[[nodiscard]] QFont font(int pixels, int weight = 400);

/// The colour that a widget writes in, by its palette: a style sheet of its own is worked out anew for every widget.
void setInk(QWidget& widget, const QColor& ink);

} // namespace wendrix::app::theme
