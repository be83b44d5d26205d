#include "shell/theme.h"

#include <QApplication>
#include <QDirIterator>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QPixmap>
#include <QStyleFactory>
#include <QSvgRenderer>
#include <QWidget>

// Resources of a static library are linked in only if asked for, and from outside any namespace.
static void initResources() { Q_INIT_RESOURCE(resources); }

namespace wendrix::app::theme {

namespace {

const char* const kStyleSheet = R"(
QToolTip { background: #1F2B30; color: #FFFFFF; border: 0; padding: 4px 6px; }
QPushButton { background: #FFFFFF; border: 1px solid #DAD4C6; border-radius: 4px; padding: 5px 11px; color: #1F2B30; font-weight: 600; }
QPushButton:hover { background: #FBF9F3; border-color: #C9C2B1; }
QPushButton:focus { border: 2px solid #2B7A84; padding: 4px 10px; }
QPushButton:disabled { color: #A5A89F; }
QPushButton[menu="true"] { padding-right: 24px; }
QPushButton::menu-indicator { subcontrol-position: right center; right: 8px; }
QPushButton[loud="true"] { background: #C8501E; border-color: #C8501E; color: #FFFFFF; }
QPushButton[loud="true"]:hover { background: #B54618; }
QPushButton[loud="true"]:disabled { background: #E5C3B2; border-color: #E5C3B2; }
QPushButton[chip="true"] { border-radius: 12px; padding: 3px 10px; font-weight: 500; background: #FDFCF8; }
QPushButton[chip="true"]:checked { background: #173F46; border-color: #173F46; color: #FFFFFF; font-weight: 600; }
QPushButton[chip="true"]:focus { border: 2px solid #2B7A84; padding: 2px 9px; }
QLineEdit, QPlainTextEdit { background: #FDFCF8; border: 1px solid #DAD4C6; border-radius: 4px; padding: 5px 8px; selection-background-color: #2B7A84; }
QLineEdit:focus, QPlainTextEdit:focus { border: 2px solid #2B7A84; padding: 4px 7px; }
QLineEdit:read-only { background: transparent; border-color: transparent; }
QLineEdit:read-only:focus { border: 2px solid #2B7A84; }
QComboBox, QSpinBox, QDateEdit { background: #FDFCF8; border: 1px solid #DAD4C6; border-radius: 4px; padding: 4px 8px; }
QComboBox:focus, QSpinBox:focus, QDateEdit:focus { border: 2px solid #2B7A84; padding: 3px 7px; }
QSpinBox:disabled, QDateEdit:disabled { color: #A5A89F; }
QComboBox::drop-down, QDateEdit::drop-down { border: none; width: 22px; }
QComboBox::down-arrow, QDateEdit::down-arrow { image: url(:/icons/chevron-down.svg); width: 14px; height: 14px; }
QSpinBox::up-button, QSpinBox::down-button { border: none; width: 20px; }
QSpinBox::up-arrow { image: url(:/icons/chevron-up.svg); width: 12px; height: 12px; }
QSpinBox::down-arrow { image: url(:/icons/chevron-down.svg); width: 12px; height: 12px; }
QComboBox QAbstractItemView { background: #FFFFFF; border: 1px solid #DAD4C6; selection-background-color: #E7EFEE; selection-color: #1F2B30; }
QToolButton[quiet="true"] { background: #FFFFFF; border: 1px solid #DAD4C6; border-radius: 4px; min-width: 22px; min-height: 22px; }
QToolButton[quiet="true"]:focus { border: 2px solid #2B7A84; }
QToolButton[quiet="true"]:disabled { color: #C9C2B1; border-color: #EAE5D9; }
QListWidget { background: #FDFCF8; border: 1px solid #DAD4C6; border-radius: 4px; padding: 2px; }
QListWidget:focus { border-color: #2B7A84; }
QListWidget::item { padding: 1px 4px; }
QListWidget::item:selected { background: #E7EFEE; color: #1F2B30; }
QScrollBar:vertical { width: 10px; background: transparent; margin: 0; }
QScrollBar::handle:vertical { background: #D5CFC0; border-radius: 4px; min-height: 28px; margin: 1px 2px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar:horizontal { height: 10px; background: transparent; }
QScrollBar::handle:horizontal { background: #D5CFC0; border-radius: 4px; min-width: 28px; margin: 2px 1px; }
QMenu { background: #FFFFFF; border: 1px solid #DAD4C6; padding: 4px; }
QMenu::item { padding: 5px 22px 5px 14px; border-radius: 3px; }
QMenu::item:selected { background: #E7EFEE; color: #1F2B30; }
QMenu::separator { height: 1px; background: #EAE5D9; margin: 4px 6px; }
)";

} // namespace

void apply()
{
    initResources();
    for (QDirIterator it(":/fonts"); it.hasNext();)
        QFontDatabase::addApplicationFont(it.next());
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QPalette palette;
    palette.setColor(QPalette::Window, kPanel);
    palette.setColor(QPalette::Base, kPanel);
    palette.setColor(QPalette::AlternateBase, kInnerRow);
    palette.setColor(QPalette::Text, kInk);
    palette.setColor(QPalette::WindowText, kInk);
    palette.setColor(QPalette::ButtonText, kInk);
    palette.setColor(QPalette::Button, kPanel);
    palette.setColor(QPalette::Highlight, kFocus);
    palette.setColor(QPalette::HighlightedText, kPanel);
    palette.setColor(QPalette::PlaceholderText, QColor(0x7B, 0x85, 0x86));
    QApplication::setPalette(palette);
    QApplication::setFont(font(13));
    qApp->setStyleSheet(kStyleSheet);
}

void setInk(QWidget& widget, const QColor& ink)
{
    QPalette palette = widget.palette();
    palette.setColor(QPalette::WindowText, ink);
    widget.setPalette(palette);
}

QFont font(int pixels, int weight)
{
    QFont f("Public Sans");
    f.setPixelSize(pixels);
    f.setWeight(static_cast<QFont::Weight>(weight));
    return f;
}

QPixmap icon(const QString& name, const QColor& colour, int size, double ratio)
{
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly))
        return {};
    QByteArray svg = file.readAll();
    svg.replace("currentColor", colour.name().toUtf8());
    svg.replace("stroke-width=\"2\"", "stroke-width=\"1.5\"");
    QSvgRenderer renderer(svg);
    QPixmap pixmap(QSize(size, size) * ratio);
    pixmap.setDevicePixelRatio(ratio);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter, QRectF(0, 0, size, size));
    return pixmap;
}

} // namespace wendrix::app::theme
