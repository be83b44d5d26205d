#pragma once

#include <QListWidget>
#include <QObject>
#include <QPointer>
#include <QStringList>

#include <functional>
#include <optional>

class QLineEdit;
class QPlainTextEdit;
class QWidget;

namespace wendrix::app {

/// Offers names below a field while one is being written: arrows choose, Enter or Tab takes, Escape goes on without.
/// What is written need be no name that is offered.
class NamesOffered final : public QObject {
    Q_OBJECT
public:
    /// Answers what has been written of a name with the names it may become.
    using Find = std::function<QStringList(const QString& begun)>;
    /// After "@", wherever it stands at the beginning of a word.
    NamesOffered(QPlainTextEdit* edit, Find find);
    /// Of each name between commas; what stands of it up to its first blank is what is written.
    NamesOffered(QLineEdit* edit, Find find);
    ~NamesOffered() override;

private:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void offer();
    void take();
    void hide();
    /// What has been written of a name up to the cursor; nothing where none is being written.
    [[nodiscard]] std::optional<QString> begun() const;

    QWidget* edit_;
    QPlainTextEdit* text_ = nullptr; ///< it is one of the two
    QLineEdit* line_ = nullptr;
    QPointer<QListWidget> list_; ///< the window's, over everything else in it
    Find find_;
    bool isTaking_ = false;
};

} // namespace wendrix::app
