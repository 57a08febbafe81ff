// All that punches, in the lower pane: a row each, sorted by use until another column is asked for. A row clicked is
// looked at: the Plan flies there, the Cut goes through it, its page lies in the Tray. Ctrl+C copies the table.
#pragma once
#include <QAbstractTableModel>
#include <QTableView>

#include "app/desk.h"

namespace mossbed {

class PunchingModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    explicit PunchingModel(Desk* desk, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;
    QVariant headerData(int section, Qt::Orientation o, int role) const override;
    void sort(int column, Qt::SortOrder order) override;
    void refresh();
    const Row* row(int at) const;
    int row_of(const std::string& item) const;  // −1: none
    QString text_of(int row, int column) const;

  private:
    struct Line {
        Row row;
        std::optional<PunchingAnswer> found;
    };
    std::optional<double> number(const Line& l, int column) const;
    Desk* desk_;
    std::vector<Line> lines_;
    int column_ = 1;
    Qt::SortOrder order_ = Qt::DescendingOrder;
};

class PunchingTable : public QTableView {
    Q_OBJECT
  public:
    explicit PunchingTable(Desk* desk, QWidget* parent = nullptr);
    PunchingModel* rows() { return rows_; }
    void copy() const;

  protected:
    void keyPressEvent(QKeyEvent* e) override;

  private:
    void follow();
    Desk* desk_;
    PunchingModel* rows_;
    bool syncing_ = false;
};

}  // namespace mossbed
