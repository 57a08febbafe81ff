// A table of the model in the lower pane: edited in place with units and expressions, sorted, copied to and pasted from
// a spreadsheet. Its last row is empty: what is typed there becomes a new thing. What is chosen is chosen everywhere.
#pragma once
#include <QAbstractTableModel>
#include <QSortFilterProxyModel>
#include <QTableView>

#include "app/desk.h"
#include "core/tables/table.h"

namespace mossbed {

class TableModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    TableModel(Desk* desk, TableKind kind, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;
    QVariant headerData(int section, Qt::Orientation o, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& i) const override;
    bool setData(const QModelIndex& i, const QVariant& value, int role) override;

    TableKind kind() const { return kind_; }
    const Table& table() const { return *table_; }
    int n_things() const { return n_rows_; }
    std::optional<Thing> thing(int row) const;  // as it is chosen
    void refresh();                             // the model changed
    void set_all_components(bool all);
    bool all_components() const { return options_.all_components; }
    // Cells onto rows of the model in that order, the first line on the first; beyond them new things begin. One edit.
    void paste(const QString& text, const std::vector<int>& rows, int first_column);
    void clear(const std::vector<std::pair<int, int>>& cells);
    void add_row(int after);
    void remove(const Things& things);
    QString sums() const;                           // "sum of N: G 14 231, R 8 300 kN"
    static constexpr int sorted_by = Qt::UserRole;  // role

  private:
    struct Typed {
        std::optional<double> number;
        std::string text;
        QString why_not;
    };
    class Pasting;
    Typed read(const QString& text, const TableColumn& column) const;
    QString called(const Table& t, int row) const;
    bool is_column_shown_alike(const std::vector<TableColumn>& before) const;

    Desk* desk_;
    TableKind kind_;
    TableOptions options_;
    std::unique_ptr<Table> table_;
    int n_rows_ = 0;  // as the views know it, without the empty one
};

class TableView : public QTableView {
    Q_OBJECT
  public:
    TableView(Desk* desk, TableKind kind, QWidget* parent = nullptr);
    TableModel* rows() { return rows_; }
    void copy() const;
    void paste();
    void fill_down();  // the first selected row's cells into the others
    void add_row();
    void delete_rows();

  protected:
    void keyPressEvent(QKeyEvent* e) override;
    void closeEditor(QWidget* editor, QAbstractItemDelegate::EndEditHint hint) override;

  private:
    void choose_as_selected();
    void select_as_chosen();
    void fit_columns();
    std::vector<int> rows_from(int view_row) const;  // of the model, in the order of the view
    Things selected_things() const;
    Desk* desk_;
    TableModel* rows_;
    QSortFilterProxyModel* order_;
    bool syncing_ = false;
};

// Cells of a block as spreadsheets put them on the clipboard: tabs, else semicolons; quotes round what holds either.
std::vector<QStringList> cells_of(const QString& text);

}  // namespace mossbed
