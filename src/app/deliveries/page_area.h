#pragma once

#include <QPixmap>
#include <QTimer>
#include <QWidget>

namespace wendrix::app {

/// One page of a document that can be drawn nearer and moved: the whole page at a modest resolution, and over it the
/// part in sight at full resolution as soon as somebody provides it.
class PageArea final : public QWidget {
    Q_OBJECT
public:
    explicit PageArea(QWidget* parent = nullptr);

    /// Another page; how near and where one looks stays. Empty for none.
    void setPage(const QPixmap& whole);
    /// A part of the page, in fractions of its width and height, drawn finer.
    void setDetail(const QPixmap& pixels, const QRectF& part);
    [[nodiscard]] bool hasPage() const { return !whole_.isNull(); }
    [[nodiscard]] double zoom() const { return zoom_; } ///< 1: the whole page in sight
    [[nodiscard]] QRectF part() const;                  ///< of the page that is in sight, in fractions
    void zoomBy(double factor, QPointF at);             ///< what is at a place of this widget stays there
    void zoomBy(double factor) { zoomBy(factor, QRectF(rect()).center()); }
    void fit();
    [[nodiscard]] QRectF pageRect() const; ///< of the whole page, in this widget

signals:
    /// Once it rests nearer than the whole page's resolution shows well.
    /// @param part      of the page, in fractions
    /// @param longSide  of the whole page, in device pixels, as it is shown
    void detailWanted(const QRectF& part, int longSide);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    void changed();
    void clampCentre();

    QPixmap whole_, smaller_, detail_; ///< smaller: the whole as it is shown from afar
    QRectF detailPart_;
    double zoom_ = 1;
    QPointF centre_{0.5, 0.5}; ///< of the page, in fractions: what is in the middle of this widget
    QPointF draggedFrom_;
    QTimer rest_;
};

} // namespace wendrix::app
