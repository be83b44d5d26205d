#pragma once

#include "core/coordinates/hand_fit.h"

#include <QTableWidget>

namespace wendrix::app {

/// What was taken by hand: a line for each pair with its number, its weight, which can be written over, and what it
/// leaves. Del takes a pair away.
class PairTable final : public QTableWidget {
    Q_OBJECT
public:
    /// @param left  of each pair, or nothing where no fit was found
    PairTable(const std::vector<coordinates::HandPair>& pairs, const std::vector<coordinates::Left>& left,
              QWidget* parent = nullptr);

signals:
    void weightChanged(int pair, double weight);
    void removeWanted(int pair);

protected:
    void keyPressEvent(QKeyEvent* event) override;
};

} // namespace wendrix::app
