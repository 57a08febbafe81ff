// A line for one number with its unit. Takes an expression ("3*1.2"), another unit ("24 in"), a decimal comma; says at
// once when a value cannot be. A default that the engineer has not owned is grey.
#pragma once
#include <QLabel>
#include <QLineEdit>
#include <functional>
#include <optional>

namespace mossbed {

enum class Dimension { none, length, millimetres, force, moment, pressure, strength, modulus, weight, angle };
QString unit_name(Dimension u);

// The number in the unit's own measure, or nothing with `fault` filled.
std::optional<double> read_number(const QString& text, Dimension unit, QString* fault = nullptr);
QString plain(double v);  // as few digits as it takes, up to four places

class Field : public QWidget {
    Q_OBJECT
  public:
    Field(const QString& label, Dimension unit, const QString& name, QWidget* parent = nullptr);
    void set_range(double low, double high, bool open_low = false) { low_ = low, high_ = high, open_low_ = open_low; }
    void set_optional(bool o) { optional_ = o; }  // may be left empty
    void show_value(std::optional<double> v, bool is_default);
    QLineEdit* line() { return line_; }
    void make_short();  // a narrow line and no unit, for two in a row

  Q_SIGNALS:
    void entered(std::optional<double> value);

  private:
    void finish();
    QLabel *label_, *unit_label_, *fault_;
    QLineEdit* line_;
    Dimension unit_;
    double low_ = -1e300, high_ = 1e300;
    bool open_low_ = false, optional_ = false;
    QString shown_;
};

}  // namespace mossbed
