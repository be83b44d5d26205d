#pragma once

#include "core/project/receiving.h"
#include "shell/stage.h"

#include <functional>

/// The small forms of the deliveries stage; each fills the details and calls `done` when it is settled or given up.
namespace wendrix::app {

using Done = std::function<void()>;
void showAddForm(const StageContext& at, const project::Draft& draft, int draftsLeft, const Done& done,
                 const Done& giveUp);
void showDeclineForm(const StageContext& at, const project::Delivery& delivery, const Done& done);
void showHoldForm(const StageContext& at, const project::Delivery& delivery, const Done& done);
void showDescribeForm(const StageContext& at, const project::Delivery& delivery, const Done& done);
/// Which classes of a discipline's models are not read.
void showLeaveOutForm(const StageContext& at, const std::string& discipline, const Done& done);
/// Whether folders that the project names are to be watched on this computer. @param agreed  when they are
void showWatchForm(const StageContext& at, const QVector<QPair<QString, QString>>& folders, const Done& agreed,
                   const Done& done);

} // namespace wendrix::app
