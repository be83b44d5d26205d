#pragma once

#include <QScrollArea>

#include "shell/details_page.h"

namespace wendrix::app {

/// The selected thing, whole: written anew from top to bottom each time something else is selected, and shown when it
/// is finished.
class Details final : public QScrollArea {
    Q_OBJECT
public:
    explicit Details(QWidget* parent = nullptr);
    ~Details() override;

    void clear();
    /// Says whose content this is until it is cleared, so that it can be written again when something changed under it.
    void setOwner(const QString& owner) { owner_ = owner; }
    [[nodiscard]] const QString& owner() const { return owner_; }
    void addCaption(const QString& words);
    void addTitle(const QString& words);
    void addHeading(const QString& words);
    void addText(const QString& words, bool isSoft = true);
    /// A name and its value; a mark may stand before the value, a soft second line under it.
    void addFact(const QString& name, const QString& value, const QString& second = {}, Mark mark = Mark::None,
                 const QColor& markColour = {}, const QString& markText = {});
    using Button = DetailsButton;
    void addButtons(const QVector<Button>& buttons);
    void addTable(const QStringList& header, const QVector<QStringList>& rows, const QString& name = {});
    void addWidget(QWidget* widget);
    void finish(); ///< after the last part: shows them

private:
    void addWords(DetailsPart::Kind kind, const QString& words);
    void offerWhole(const QString& text); ///< where it is too long for the panel

    QString owner_, title_;
    QVector<DetailsPart> parts_; ///< written since it was cleared
    DetailsPage* page_ = nullptr;
};

} // namespace wendrix::app
