#pragma once

#include "deliveries/register.h"
#include "shell/stage.h"

class QLabel;

namespace wendrix::app {

/// Deliveries: the register, and what to do with the one that is chosen.
class DeliveriesStage final : public Stage {
    Q_OBJECT
public:
    DeliveriesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString title() const override { return "Deliveries"; }
    [[nodiscard]] QString iconName() const override { return "package-open"; }
    [[nodiscard]] QWidget* list() override { return page_; }
    [[nodiscard]] bool isRegister() const override { return true; }
    [[nodiscard]] int waiting() const override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    void step(int by) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

    /// Receives a file for a discipline; the next free revision of it is proposed.
    void receive(const QString& file, const QString& discipline);

private:
    void showDetails();
    void takeIn();
    void decline();
    void hold(const std::string& discipline);
    void askFile();
    [[nodiscard]] QString nextRevision(const std::string& discipline) const;

    QWidget* page_;
    Register* register_;
    QLabel* summary_;
};

} // namespace wendrix::app
