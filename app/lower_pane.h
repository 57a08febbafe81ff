// The pane below the Plan: the Cut, or a table of what the stop is about, chosen by tabs in its head.
#pragma once
#include <QLabel>
#include <QStackedWidget>
#include <QToolButton>

#include "app/cut_view.h"
#include "app/table_view.h"

namespace mossbed {

class LowerPane : public QWidget {
    Q_OBJECT
  public:
    explicit LowerPane(Desk* desk, QWidget* parent = nullptr);
    void show_cut();
    void show_table(TableKind kind);
    void turn();  // from the Cut to the stop's first table and back
    bool shows_table() const { return current_.has_value(); }
    TableView* table();  // that is shown, null for the Cut
    CutView* cut() { return cut_; }

  protected:
    void resizeEvent(QResizeEvent* e) override;

  private:
    void follow_stop();
    void refresh_head();
    QToolButton* add_button(const QString& text, const QString& name);
    Desk* desk_;
    CutView* cut_;
    QStackedWidget* stack_;
    std::map<TableKind, TableView*> tables_;  // made when first shown
    std::map<TableKind, QToolButton*> tabs_;
    std::optional<TableKind> current_;
    QWidget *of_cut_, *of_tables_;
    QToolButton *cut_tab_, *components_;
    QLabel* text_;
};

std::vector<TableKind> tables_at(Stop stop);
const std::vector<TableKind>& all_tables();

}  // namespace mossbed
