// The combinations in the lower pane: a row each, grouped by purpose, a column a case with the factors in its cells,
// and at the end of each row what came of it. A row clicked is the one on the map. Rows that govern nothing fold away.
#pragma once
#include <QAbstractTableModel>
#include <QTableView>

#include "app/desk.h"

namespace mossbed {

class CombinationModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Result { pressure, contact, settlement, use };  // the columns at the end
    explicit CombinationModel(Desk* desk, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;
    QVariant headerData(int section, Qt::Orientation o, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& i) const override;
    bool setData(const QModelIndex& i, const QVariant& value, int role) override;
    void sort(int column, Qt::SortOrder order) override;

    void refresh();                              // model or answer changed
    const Combination* row(int row) const;       // null for the head of a group
    std::optional<Purpose> head(int row) const;  // of the head of a group
    int row_of(const std::string& id) const;     // −1 where it is folded away
    void turn(Purpose group);                    // fold or unfold what governs nothing
    QString about(Purpose group) const;          // "51 rows · 44 govern nothing, folded away"
    int n_cases() const { return int(desk_->now().loads.cases.size()); }
    std::optional<Result> result_at(int column) const;
    // The end of each row as sums of loads and of what the ground returns, in place of results.
    void show_sums(bool on);
    bool shows_sums() const { return sums_; }
    double largest_pressure() const { return most_pressure_; }
    double largest_settlement() const { return most_settlement_; }
    // Cells as a spreadsheet has them, onto rows from one on; one edit.
    void paste(const QString& text, int row, int column);
    QString text_of(int row, int column) const;  // for the clipboard

  private:
    struct Line {
        Purpose group = Purpose::service;
        int of = -1;  // among the desk's combinations; −1 the head
        bool operator==(const Line&) const = default;
    };
    double sorted_by(const Combination& c) const;
    const LoadCase& load_case(int column) const { return desk_->now().loads.cases[size_t(column - 2)]; }
    QString rule_of(const Combination& c) const;
    std::optional<double> sum_at(const Combination& c, int column) const;
    void say_if_by_hand(const Combination& before);
    Desk* desk_;
    std::vector<Line> lines_;
    std::map<Purpose, bool> is_open_;                // as the engineer turned it
    std::map<Purpose, std::pair<int, int>> n_rows_;  // all, folded away
    std::vector<std::string> heads_;
    bool sums_ = false;
    int sort_column_ = -1;
    Qt::SortOrder sort_order_ = Qt::DescendingOrder;
    double most_pressure_ = 1, most_settlement_ = 1e-3;
};

class CombinationTable : public QTableView {
    Q_OBJECT
  public:
    explicit CombinationTable(Desk* desk, QWidget* parent = nullptr);
    CombinationModel* rows() { return rows_; }
    void copy() const;
    void paste();
    void copy_row();     // a row by hand like the one in hand
    void delete_rows();  // by hand: gone; by rule: off
    void turn_rows();    // on or off

  protected:
    void keyPressEvent(QKeyEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    void resizeEvent(QResizeEvent* e) override;

  private:
    void follow_choice();
    void lay_out();
    std::set<std::string> selected() const;
    Desk* desk_;
    CombinationModel* rows_;
    bool syncing_ = false;
};

}  // namespace mossbed
