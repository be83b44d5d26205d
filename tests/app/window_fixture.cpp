#include "app/window_fixture.h"

#include "core/project/demo_project.h"
#include "support/demo.h"

#include <QDialog>
#include <QDir>
#include <QDropEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QMimeData>
#include <QStandardPaths>
#include <QTextBrowser>
#include <QTimer>
#include <QUrl>

#include <chrono>
#include <filesystem>

namespace wendrix::test {

using namespace wendrix::app;

namespace {

constexpr int kPatience = 120'000; // milliseconds: a sanitizer build on a busy machine

} // namespace

WindowFixture::WindowFixture()
{
    QStandardPaths::setTestModeEnabled(true); // settings of the person who runs the tests are not the tests' to change
    theme::apply();
    session_ = std::make_unique<Session>("Ines Varga");
    window_ = std::make_unique<MainWindow>(*session_);
}

WindowFixture::~WindowFixture()
{
    window_.reset();
    session_.reset();
}

void WindowFixture::settle()
{
    // What is queued, and what that queues: a choice, the panel it builds, the children that are then shown.
    for (int i = 0; i < 4; ++i) {
        QCoreApplication::processEvents();
        while (session_->isAwaiting() || session_->jobs().isBusy(Jobs::Lane::Opening))
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    }
}

bool WindowFixture::change(std::function<Result<void>(project::Project&)> command)
{
    bool isDone = false;
    session_->write([command = std::move(command)](project::Project& p) { return Session::saying(command(p)); },
                    [&](bool done) { isDone = done; });
    settle();
    return isDone;
}

void WindowFixture::openDemo(int lastCycle)
{
    const std::string data = demoFolder() + "/data";
    Progress progress;
    auto project = project::makeDemoProject(data, (folder() + "/project").toStdString(), progress);
    QVERIFY(project.has_value());
    for (int cycle = 2; cycle <= lastCycle; ++cycle)
        QVERIFY(project::receiveDemoCycle(**project, data, cycle, progress).has_value());
    session_->open(std::move(*project));
    window_->show();
    QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
    QApplication::setActiveWindow(window_.get()); // there is no window manager to do it
    session_->loadModels();
    waitIdle();
}

void WindowFixture::openAgain()
{
    const auto path = project().folder();
    window_.reset();
    session_.reset();
    session_ = std::make_unique<Session>("Ines Varga");
    window_ = std::make_unique<MainWindow>(*session_);
    session_->open(project::Project::open(path).value());
    window_->show();
    QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
    QApplication::setActiveWindow(window_.get()); // there is no window manager to do it
    session_->loadModels();
    waitIdle();
}

void WindowFixture::waitIdle()
{
    while (session_->isBusy()) {
        QSignalSpy spy(session_.get(), &Session::idle);
        QVERIFY(spy.wait(kPatience));
    }
    scene().finishMotion();
    settle();
}

void WindowFixture::clickStage(const QString& title)
{
    QTest::mouseClick(window_->findChild<QWidget*>("stage-" + title.toLower()), Qt::LeftButton);
    waitIdle();
}

Worklist& WindowFixture::list(const QString& title)
{
    auto* found = window_->findChild<Worklist*>(title.toLower());
    if (found == nullptr)
        qFatal("no list %s", qPrintable(title));
    return *found;
}

void WindowFixture::clickRow(const QString& title, int row)
{
    QListView& view = list(title).view();
    const QModelIndex index = rows(title).index(row);
    view.scrollTo(index);
    QTest::mouseClick(view.viewport(), Qt::LeftButton, {}, view.visualRect(index).center());
    settle();
    scene().finishMotion();
}

bool WindowFixture::clickButton(const QString& name)
{
    for (QAbstractButton* button : window_->findChildren<QAbstractButton*>(name))
        if (button->isVisible() && button->isEnabled()) {
            QTest::mouseClick(button, Qt::LeftButton);
            settle();
            return true;
        }
    return false;
}

void WindowFixture::clickCard(project::DeliveryId id)
{
    auto* table = window_->findChild<Register*>("register");
    QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->cardOf(id).center());
    settle();
}

void WindowFixture::press(Qt::Key key, Qt::KeyboardModifiers modifiers)
{
    QWidget* target = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window_.get();
    QTest::keyClick(target, key, modifiers);
    settle();
}

std::shared_ptr<bool> WindowFixture::answerFileDialog(const QStringList& files)
{
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    auto isAsked = std::make_shared<bool>(false);
    auto* watch = new QTimer(window_.get()); // the dialog comes in its own time
    QObject::connect(watch, &QTimer::timeout, watch, [watch, files, isAsked] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        if (dialog == nullptr)
            return;
        watch->stop();
        watch->deleteLater();
        *isAsked = true;
        QStringList quoted;
        for (const QString& file : files)
            quoted.append(files.size() > 1 ? "\"" + file + "\"" : file);
        dialog->findChild<QLineEdit*>("fileNameEdit")->setText(quoted.join(' '));
        QMetaObject::invokeMethod(dialog, "accept");
    });
    watch->start(10);
    return isAsked;
}

QString WindowFixture::help(const QString& page)
{
    QString text;
    QTimer::singleShot(0, window_.get(), [&] {
        auto* dialog = window_->findChild<QDialog*>("help");
        if (dialog == nullptr)
            return;
        const auto* browser = dialog->findChild<QTextBrowser*>(page);
        if (browser != nullptr && browser->isVisible())
            text = browser->toPlainText();
        dialog->reject();
    });
    press(Qt::Key_F1);
    return text;
}

project::Delivery WindowFixture::delivery(const QString& name)
{
    for (const project::Delivery& d : must(project().deliveries().all()))
        if (QString::fromStdString(d.name()) == name)
            return d;
    return {};
}

void WindowFixture::type(const QString& name, const QString& text)
{
    auto& line = field<QLineEdit>(name);
    line.setFocus();
    line.selectAll();
    QTest::keyClicks(&line, text);
    QTest::keyClick(&line, Qt::Key_Return);
    waitIdle();
}

QString WindowFixture::details()
{
    QStringList lines;
    auto* panel = window_->findChild<Details*>("details");
    for (const QLabel* label : panel->widget()->findChildren<QLabel*>())
        lines.append(label->text().remove(QChar(0x200B))); // where long names may break
    return lines.join('\n');
}

QString WindowFixture::message() { return window_->findChild<QLabel*>("message")->accessibleDescription(); }

QString WindowFixture::selectionWords()
{
    auto* label = window_->findChild<QLabel*>("selectionWords");
    return label->isVisible() ? label->text() : QString();
}

QColor WindowFixture::pixel(QPoint at) { return scene().picture().pixelColor(at); }

void WindowFixture::drop(const QStringList& files)
{
    QList<QUrl> urls;
    for (const QString& file : files)
        urls.append(QUrl::fromLocalFile(file));
    dropUrls(urls);
}

void WindowFixture::dropUrls(const QList<QUrl>& urls)
{
    auto* page = window().findChild<QWidget*>("deliveries");
    QMimeData data;
    data.setUrls(urls);
    QDragEnterEvent enter(page->rect().center(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(page, &enter);
    if (!enter.isAccepted())
        qFatal("what is dropped is not taken");
    QDropEvent let(page->rect().center(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(page, &let);
    waitIdle();
}

QString WindowFixture::copyOf(const QString& demoFile, const QString& name, const QByteArray& more)
{
    const QString to = folder() + "/" + name;
    QDir().mkpath(QFileInfo(to).path());
    QFile from(QString::fromStdString(test::demoFolder()) + "/data/" + demoFile), file(to);
    if (!from.open(QIODevice::ReadOnly) || !file.open(QIODevice::WriteOnly))
        qFatal("can not copy");
    // After HEADER's start: other bytes, the same model.
    QByteArray bytes = from.readAll();
    bytes.insert(bytes.indexOf("HEADER;"), more);
    file.write(bytes);
    file.close();
    std::filesystem::last_write_time(to.toStdString(),
                                     std::filesystem::file_time_type::clock::now() - std::chrono::seconds(60));
    return to;
}

} // namespace wendrix::test
