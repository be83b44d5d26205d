#pragma once

#include <QProcess>
#include <QWidget>

class QLabel;
class QPushButton;

namespace wendrix::app {

class PageArea;

/// A document of a delivery, page by page, where the scene else is.
///
/// Pages are drawn by Poppler's pdftoppm in a process of its own with bounded time and memory: a document from outside
/// can fail or hang there without touching the application.
class DocumentView final : public QWidget {
    Q_OBJECT
public:
    explicit DocumentView(QWidget* parent = nullptr);
    ~DocumentView() override;

    void open(const QString& file, const QString& name);
    void close();
    void turn(int pages);
    [[nodiscard]] int page() const { return page_; }
    [[nodiscard]] int pages() const { return pages_; } ///< 0 while not known
    [[nodiscard]] QString words() const;               ///< what stands in the head: name and page, or what is wrong
    [[nodiscard]] bool hasPicture() const;

signals:
    void shown();    ///< a page, or why there is none
    void detailed(); ///< the part of it that is in sight, drawn finer

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    using Finished = std::function<void(const QByteArray& output)>;
    void run(const QString& program, const QStringList& arguments, Finished finished);
    void draw();
    [[nodiscard]] QStringList argumentsFor(int longSide) const;
    void drawPart(const QRectF& part, int longSide);
    void say(const QString& problem);

    QString file_, name_;
    int page_ = 1, pages_ = 0;
    QLabel* words_;
    QPushButton *before_, *after_;
    PageArea* area_;
    QProcess* process_ = nullptr;
};

} // namespace wendrix::app
