#pragma once

#include <QHash>
#include <QWidget>

#include <functional>

class QCheckBox;
class QComboBox;
class QDateEdit;
class QDoubleSpinBox;
class QFormLayout;
class QLineEdit;
class QPlainTextEdit;
class QSpinBox;

namespace wendrix::app {

/// A small form: words above or beside fields, each field with a name by which it is found.
class Form final : public QWidget {
    Q_OBJECT
public:
    explicit Form(QWidget* parent = nullptr);

    QLineEdit* line(const QString& name, const QString& words, const QString& text = {}, const QString& hint = {});
    /// Calls with a text's words when it is left and says something else than before.
    void whenLeft(QPlainTextEdit* text, std::function<void(const QString& now)> then);
    QPlainTextEdit* text(const QString& name, const QString& words, const QString& text = {}, int lines = 3);
    /// @param values  what is shown and what it stands for
    QComboBox* choice(const QString& name, const QString& words, const QVector<QPair<QString, QString>>& values,
                      const QString& chosen = {});
    QDateEdit* day(const QString& name, const QString& words, const QDate& day);
    QSpinBox* number(const QString& name, const QString& words, int value, int least, int most);
    /// One digit behind the point.
    QDoubleSpinBox* decimal(const QString& name, const QString& words, double value, double least, double most,
                            const QString& unit);
    QCheckBox* tick(const QString& name, const QString& words, bool isOn);
    void add(QWidget* widget, const QString& words = {});
    void setShown(QWidget* field, bool isShown); ///< with its words

private:
    bool eventFilter(QObject* watched, QEvent* event) override;

    QFormLayout* layout_;
    struct Leaving {
        QString kept;
        std::function<void(const QString&)> then;
    };
    QHash<QObject*, Leaving> leaving_;
};

} // namespace wendrix::app
