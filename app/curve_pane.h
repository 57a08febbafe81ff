// Load against settlement of the combination looked at: a line a point, drawn anew when the model or the combination
// changes while the pane is shown. The pointer reads the values; Ctrl+C copies them as a table.
#pragma once
#include <QWidget>

#include "app/desk.h"

class QCustomPlot;
class QLabel;

namespace mossbed {

class Field;

class CurvePane : public QWidget {
    Q_OBJECT
  public:
    explicit CurvePane(Desk* desk, QWidget* parent = nullptr);
    QCustomPlot* chart() { return chart_; }
    QString reading(double factor) const;  // "× 1.20: middle 49.5 mm, C14 55.4 mm · 100 % in contact"
    void copy() const;

  protected:
    void showEvent(QShowEvent* e) override;
    void hideEvent(QHideEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;

  private:
    void follow();  // draws anew what is not of the model and combination in hand
    void fill();
    void say();
    Desk* desk_;
    QCustomPlot* chart_;
    QLabel *words_, *reading_;
    Field* to_;
    std::shared_ptr<const Curve> shown_;
    std::string asked_;  // the combination that was asked for last
    long asked_revision_ = -1;
};

}  // namespace mossbed
