// A line for one number with its unit. Takes an expression ("3*1.2"), another unit ("24 in"), a decimal comma; says at
// once when a value cannot be. A default that the engineer has not owned is grey.
#pragma once
#include <QLabel>
#include <functional>
#include <optional>

#include "app/line.h"
#include "core/model/facts.h"

namespace mossbed {

// The number in the unit's own measure, or nothing with `fault` filled.
std::optional<double> read_number(const QString& text, Unit unit, QString* fault = nullptr);
QString plain(double v);  // as few digits as it takes, up to four places

class Field : public QWidget {
    Q_OBJECT
  public:
    Field(const QString& label, Unit unit, const QString& name, QWidget* parent = nullptr);
    // What a number may be, on the screen's scale.
    struct Range {
        double low = -1e300, high = 1e300;
        bool above_low = false;  // the lowest itself is not allowed
    };
    void set_range(Range r) { range_ = r; }
    void set_optional(bool o) { optional_ = o; }  // may be left empty
    void show_value(std::optional<double> v, bool is_default);
    void show_several();  // of several things with different values: what is typed sets all
    Line* line() { return line_; }
    void make_short(int label_width = 0);  // a narrow line and no unit, for two in a row; labels of one width align

  Q_SIGNALS:
    void entered(std::optional<double> value);

  protected:
    bool eventFilter(QObject* of, QEvent* e) override;  // of the line

  private:
    QString take(bool leaving);  // what was typed; why not, when it is refused
    void say_fault(const QString& why);
    QLabel *label_, *unit_label_, *fault_ = nullptr;
    Line* line_;
    Unit unit_;
    Range range_;
    bool optional_ = false;
};

// Why a number cannot be taken; empty when it can.
QString fault_of(double v, const Field::Range& range, Unit unit);

}  // namespace mossbed
