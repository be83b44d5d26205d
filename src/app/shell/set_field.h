#pragma once

#include <QTimer>
#include <QWidget>

#include "core/clash/test_sheet.h"
#include "core/view/display.h"

class QLabel;
class QListWidget;
class QPlainTextEdit;

namespace wendrix::app {

class FlowLayout;
class Session;

/// Where a set is written: its line, with what could come next as one types; the same as chips, one a condition, that
/// can be taken away and added to; and how many elements it picks, or what is wrong and where.
class SetField final : public QWidget {
    Q_OBJECT
public:
    /// @param name  by which its parts are found: name, nameCount, nameAdd, nameChip0 ...
    SetField(Session& session, const QString& name, QWidget* parent = nullptr);

    void setLine(const QString& line);
    [[nodiscard]] QString line() const;
    /// The sheet whose named sets it may name.
    void setSheet(const clash::TestSheet& sheet) { sheet_ = sheet; }
    /// What an empty line stands for: "the same set"; without it an empty line is wrong.
    void setEmptyWords(const QString& words);
    void setPlaceholder(const QString& words);

signals:
    void edited();                                                       ///< by a person
    void picked(const std::vector<wendrix::view::ElementKey>& elements); ///< of the session's workspace
    void committed();                                                    ///< the person left it, or pressed Enter

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void changed();
    void count();
    void showChips();
    void fitChips();
    void showNext(const std::vector<std::string>& lines);
    void take(int row);
    void offerConditions();
    void say(const QString& words, bool isWrong);

    Session& session_;
    QString name_, emptyWords_;
    clash::TestSheet sheet_;
    QPlainTextEdit* edit_;
    QWidget* chips_;
    QLabel* count_;
    QListWidget* next_;
    QTimer rest_;
    bool isQuiet_ = false;
};

} // namespace wendrix::app
