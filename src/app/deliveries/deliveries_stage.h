#pragma once

#include "deliveries/delivery_forms.h"
#include "deliveries/inside_page.h"
#include "deliveries/register.h"
#include "shell/stage.h"

#include <deque>

class QLabel;
class QPushButton;
class QStackedWidget;

namespace wendrix::app {

/// Deliveries: the register, what to do with the one that is chosen, and the inside of one.
class DeliveriesStage final : public Stage {
    Q_OBJECT
public:
    DeliveriesStage(const StageContext& context, DocumentView& document, QObject* parent);

    [[nodiscard]] QString title() const override { return "Deliveries"; }
    [[nodiscard]] QString iconName() const override { return "package-open"; }
    [[nodiscard]] QWidget* list() override;
    [[nodiscard]] bool isRegister() const override { return at_.session.inside() == nullptr; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    void enter() override;
    bool press(Qt::Key key) override;
    void step(int by) override;
    void choose(const QString& id) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override;

    [[nodiscard]] InsidePage& inside() { return *inside_; }
    [[nodiscard]] std::optional<IssueStart> issueStart() const override
    {
        return at_.session.inside() != nullptr ? inside_->issueStart() : std::nullopt;
    }
    /// How the drop folders do, beside the figures; a problem is loud.
    /// @param unwatched  what the project names and nobody on this machine agreed to: discipline, folder
    void setWatch(const QString& words, const QStringList& problems, const QVector<QPair<QString, QString>>& unwatched);
    /// Files that were dropped or chosen: draws up deliveries and asks about them one by one. Folders give their files.
    void receive(const QStringList& files);

signals:
    void layoutChanged(); ///< the register takes the whole width, the inside does not
    void compareWanted(qint64 from, qint64 to);
    void watchWanted(const QStringList& folders); ///< those that were shown may be watched

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void refresh() override;
    enum class Form { None, Add, Decline, Hold, Describe, LeaveOut, Watch };
    void showDetails();
    void showForm(Form form);
    void endForm();
    void askNextDraft();
    void takeIn();
    void takeInMoved(bool withProposed); ///< after taking in was stopped
    void decline();
    void lookInside();
    void insideChanged();
    void askFile();
    [[nodiscard]] std::optional<project::Delivery> chosen() const;
    void addState(const project::Delivery& delivery);
    void addMoved(const project::MovedPlace& moved, const project::Delivery& delivery);
    /// Why taking in this delivery was stopped; null where it was not.
    [[nodiscard]] const project::MovedPlace* movedOf(const project::Delivery& delivery) const;
    void addHistory(const project::Delivery& delivery);

    QStackedWidget* pages_;
    QWidget* page_;
    Register* register_;
    InsidePage* inside_;
    QLabel *summary_, *watch_;
    QPushButton* watchHere_;
    QVector<QPair<QString, QString>> unwatched_;
    Form form_ = Form::None;
    std::deque<project::Draft> drafts_;
    QString lastFolder_;
    bool wasInside_ = false;
    std::optional<view::Camera> outside_; ///< from where the federation was looked at before
};

} // namespace wendrix::app
