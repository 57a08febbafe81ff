// Along the strip in hand: steel needed and provided at both faces, or its moment, or its shear, over all combinations
// or in the one looked at. The pointer reads the values.
#pragma once
#include <QWidget>

#include "app/desk.h"
#include "drawing/strip_chart.h"

namespace mossbed {

class StripPane : public QWidget {
    Q_OBJECT
  public:
    explicit StripPane(Desk* desk, QWidget* parent = nullptr);
    StripPart part() const { return part_; }
    void show_part(StripPart part);
    QString head() const;  // "strip y3 · envelope of strength · …"
    QString reading(QPointF at) const;

  Q_SIGNALS:
    void head_changed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* e) override;
    void leaveEvent(QEvent*) override;

  private:
    void follow();  // the line of the strip, answer and combination in hand
    Desk* desk_;
    StripPart part_ = StripPart::steel;
    StripLine line_;
    std::shared_ptr<const Answer> of_;
    std::string strip_, combination_;
    std::optional<QPointF> at_;  // the pointer
};

}  // namespace mossbed
