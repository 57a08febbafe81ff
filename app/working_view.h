// The Working: how a number of the Ledger came about, line by line with numbers and clause. Lies over the plan; Esc
// closes.
#pragma once
#include <QCheckBox>
#include <QFrame>
#include <QLabel>
#include <QTableWidget>

#include "app/desk.h"

namespace mossbed {

class WorkingView : public QFrame {
    Q_OBJECT
  public:
    explicit WorkingView(Desk* desk, QWidget* parent);
    void show_row(const std::string& key);

  protected:
    void keyPressEvent(QKeyEvent* e) override;
    void resizeEvent(QResizeEvent* e) override;
    void showEvent(QShowEvent* e) override;

  private:
    void fill();
    Desk* desk_;
    std::string key_;
    std::optional<UnitSystem> units_;  // of the model shown last
    QLabel *title_, *note_;
    QCheckBox* us_units_;
    QTableWidget* lines_;
};

}  // namespace mossbed
