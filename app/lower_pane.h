// The pane below the Plan: the Cut, or a table of what the stop is about, chosen by tabs in its head.
#pragma once
#include <QHBoxLayout>
#include <QLabel>
#include <QStackedWidget>
#include <QToolButton>

#include "app/combination_table.h"
#include "app/curve_pane.h"
#include "app/cut_view.h"
#include "app/bars_table.h"
#include "app/punching_table.h"
#include "app/strip_pane.h"
#include "app/table_view.h"

namespace mossbed {

class LowerPane : public QWidget {
    Q_OBJECT
  public:
    explicit LowerPane(Desk* desk, QWidget* parent = nullptr);
    void show_cut();
    void show_table(TableKind kind);
    void show_combinations();
    void turn();  // from the Cut to the stop's first table and back
    void show_curve();
    void show_punching();
    void show_strip();
    void show_bars();
    bool shows_table() const { return current_ || shows_combinations_; }
    bool shows_other() const {
        return shows_table() || shows_curve_ || shows_punching_ || shows_strip_ || shows_bars_;
    }                                                           // than the Cut
    TableView* table();                                         // that is shown, null for the Cut and the combinations
    CombinationTable* combinations() { return combinations_; }  // null until first shown
    CutView* cut() { return cut_; }
    PunchingTable* punching() { return punching_; }  // null until first shown
    BarsTable* bars() { return bars_; }              // likewise
    StripPane* strip() { return strip_; }            // likewise

  protected:
    void resizeEvent(QResizeEvent* e) override;

  private:
    void follow_stop();
    void refresh_head();
    void fit_head();
    QToolButton* add_button(const QString& text, const QString& name);
    Desk* desk_;
    CutView* cut_;
    QStackedWidget* stack_;
    std::map<TableKind, TableView*> tables_;  // made when first shown
    std::map<TableKind, QToolButton*> tabs_;
    std::optional<TableKind> current_;
    CombinationTable* combinations_ = nullptr;
    bool shows_combinations_ = false;
    CurvePane* curve_ = nullptr;  // made when first shown
    bool shows_curve_ = false;
    PunchingTable* punching_ = nullptr;  // likewise
    bool shows_punching_ = false;
    StripPane* strip_ = nullptr;  // likewise
    bool shows_strip_ = false;
    BarsTable* bars_ = nullptr;  // likewise
    bool shows_bars_ = false;
    std::map<StripPart, QToolButton*> parts_;
    void leave_others();
    template <class Pane>
    void show_other(Pane*& pane, bool& shows);
    QWidget *head_, *of_cut_, *of_tables_, *of_strip_;
    QHBoxLayout *tabs_row_, *deeds_row_;
    QToolButton *cut_tab_, *combinations_tab_, *curve_tab_, *punching_tab_, *strip_tab_, *bars_tab_, *components_, *sums_, *turn_,
        *add_, *gone_;
    QLabel* text_;
};

std::vector<TableKind> tables_at(Stop stop);
const std::vector<TableKind>& all_tables();

}  // namespace mossbed
