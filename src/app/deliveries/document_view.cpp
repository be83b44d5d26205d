#include "deliveries/document_view.h"

#include "deliveries/page_area.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>
#include <QTimer>
#include <QVBoxLayout>

#include <sys/resource.h>

namespace wendrix::app {

namespace {

constexpr int kPatience = 20'000;                                  // milliseconds for a page
constexpr rlim_t kMostMemory = rlim_t{2} << 30, kMostSeconds = 20; // of the process that draws
constexpr int kLongSide = 1600, kMostPages = 5000; // pixels of a whole page: drawn and shown in a moment
constexpr qint64 kMostBytes = 64 << 20;

} // namespace

DocumentView::DocumentView(QWidget* parent) : QWidget(parent)
{
    setObjectName("document");
    setAutoFillBackground(true);
    setFocusPolicy(Qt::StrongFocus);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(10, 6, 10, 6);
    head->setSpacing(6);
    words_ = new QLabel;
    words_->setObjectName("documentWords");
    words_->setTextFormat(Qt::PlainText);
    words_->setFont(theme::font(13, 600));
    head->addWidget(words_, 1);
    const auto button = [&](const QString& name, const QString& words, auto press) {
        auto* b = new QPushButton(words);
        b->setObjectName(name);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, press);
        head->addWidget(b);
        return b;
    };
    before_ = button("pageBefore", "Page before", [this] { turn(-1); });
    after_ = button("pageAfter", "Next page", [this] { turn(1); });
    button("closeDocument", "Back to the model", [this] { close(); });
    layout->addLayout(head);
    area_ = new PageArea;
    area_->setObjectName("page");
    connect(area_, &PageArea::detailWanted, this, &DocumentView::drawPart);
    layout->addWidget(area_, 1);
    hide();
}

DocumentView::~DocumentView()
{
    if (process_ != nullptr) {
        process_->disconnect(this);
        process_->kill();
        process_->waitForFinished(1000);
    }
}

QString DocumentView::words() const { return words_->text(); }
bool DocumentView::hasPicture() const { return area_->hasPage(); }

void DocumentView::open(const QString& file, const QString& name)
{
    file_ = file;
    name_ = name;
    page_ = 1;
    pages_ = 0;
    area_->setPage({});
    area_->fit();
    words_->setText(name + " · opening");
    show();
    raise();
    setFocus();
    run("pdfinfo", {file_}, [this](const QByteArray& output) {
        const auto found = QRegularExpression("^Pages:\\s+(\\d+)", QRegularExpression::MultilineOption)
                               .match(QString::fromUtf8(output));
        pages_ = std::min(found.captured(1).toInt(), kMostPages);
        if (pages_ == 0)
            return say("The document can not be read; ask the sender for it again.");
        draw();
    });
}

void DocumentView::close()
{
    if (process_ != nullptr)
        process_->kill();
    hide();
}

void DocumentView::turn(int pages)
{
    const int next = std::clamp(page_ + pages, 1, std::max(1, pages_));
    if (next == page_ || pages_ == 0)
        return;
    page_ = next;
    draw();
}

void DocumentView::run(const QString& program, const QStringList& arguments, Finished finished)
{
    if (process_ != nullptr) {
        process_->disconnect(this);
        process_->kill();
        process_->deleteLater();
    }
    process_ = new QProcess(this);
    process_->setChildProcessModifier([] {
        const rlimit memory{kMostMemory, kMostMemory}, seconds{kMostSeconds, kMostSeconds};
        setrlimit(RLIMIT_AS, &memory);
        setrlimit(RLIMIT_CPU, &seconds);
    });
    process_->setStandardInputFile(QProcess::nullDevice());
    process_->setStandardErrorFile(QProcess::nullDevice());
    auto* process = process_;
    connect(process, &QProcess::readyReadStandardOutput, this, [process] {
        if (process->bytesAvailable() > kMostBytes)
            process->kill();
    });
    connect(process, &QProcess::errorOccurred, this, [this, process](QProcess::ProcessError error) {
        if (error == QProcess::FailedToStart && process == process_)
            say("Poppler's programs are missing; install poppler-utils to look at documents.");
    });
    connect(process, &QProcess::finished, this,
            [this, process, finished = std::move(finished)](int code, QProcess::ExitStatus status) {
                if (process != process_)
                    return;
                process_ = nullptr;
                process->deleteLater();
                if (!isVisible())
                    return;
                if (status != QProcess::NormalExit || code != 0)
                    return say("The document can not be read; ask the sender for it again.");
                finished(process->readAllStandardOutput());
            });
    QTimer::singleShot(kPatience, process, [process] { process->kill(); });
    process->start(program, arguments);
}

void DocumentView::draw()
{
    words_->setText(name_ + QString(" · page %1 of %2").arg(page_).arg(pages_));
    before_->setEnabled(page_ > 1);
    after_->setEnabled(page_ < pages_);
    run("pdftoppm", argumentsFor(kLongSide), [this](const QByteArray& output) {
        QPixmap pixels;
        if (!pixels.loadFromData(output, "PNG"))
            return say("This page can not be drawn.");
        area_->setPage(pixels);
        emit shown();
    });
}

QStringList DocumentView::argumentsFor(int longSide) const
{
    return {"-png", "-singlefile",          "-f",        QString::number(page_),
            "-l",   QString::number(page_), "-scale-to", QString::number(longSide),
            file_};
}

void DocumentView::drawPart(const QRectF& part, int longSide)
{
    if (pages_ == 0 || process_ != nullptr) // the page itself is being drawn
        return;
    const QSizeF page = QSizeF(area_->pageRect().size()).scaled(QSizeF(longSide, longSide), Qt::KeepAspectRatio);
    const QRect pixels = QRectF(part.left() * page.width(), part.top() * page.height(), part.width() * page.width(),
                                part.height() * page.height())
                             .toAlignedRect();
    const QRectF exactly(pixels.left() / page.width(), pixels.top() / page.height(), pixels.width() / page.width(),
                         pixels.height() / page.height());
    QStringList arguments{"-x", QString::number(pixels.left()),  "-y", QString::number(pixels.top()),
                          "-W", QString::number(pixels.width()), "-H", QString::number(pixels.height())};
    run("pdftoppm", arguments + argumentsFor(longSide), [this, exactly, page = page_](const QByteArray& output) {
        QPixmap finer;
        if (page != page_ || !finer.loadFromData(output, "PNG"))
            return; // the whole page is there
        area_->setDetail(finer, exactly);
        emit detailed();
    });
}

void DocumentView::say(const QString& problem)
{
    words_->setText(name_ + " · " + problem);
    emit shown();
}

void DocumentView::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_PageDown:
    case Qt::Key_Right:
        return turn(1);
    case Qt::Key_PageUp:
    case Qt::Key_Left:
        return turn(-1);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return area_->zoomBy(1.25);
    case Qt::Key_Minus:
        return area_->zoomBy(0.8);
    case Qt::Key_0:
        return area_->fit();
    case Qt::Key_Escape:
        return close();
    default:
        event->ignore();
    }
}

} // namespace wendrix::app
