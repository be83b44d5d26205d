#pragma once

#include <QDialog>
#include <QPair>
#include <QVector>

namespace wendrix::app {

/// Keys and pages of help. The pages are those of the documentation, without their pictures.
class HelpDialog final : public QDialog {
    Q_OBJECT
public:
    /// @param screen  the screen's title, its keys, and its own page if it has one
    /// @param opensModel  whether working at the model is what is asked about
    HelpDialog(const QString& screen, const QVector<QPair<QString, QString>>& keys, const QString& page,
               bool opensModel, QWidget* parent);
};

} // namespace wendrix::app
