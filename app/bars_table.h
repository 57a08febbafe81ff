// The schedule of bars in the lower pane: a row a mark, as in the files that it is written to. A row clicked shows its
// face and direction on the Plan. Ctrl+C copies the table.
#pragma once
#include <QAbstractTableModel>
#include <QTableView>

#include "app/desk.h"

namespace mossbed {

class BarsModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    explicit BarsModel(Desk* desk, QObject* parent = nullptr) : QAbstractTableModel(parent), desk_(desk) { refresh(); }
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;
    QVariant headerData(int section, Qt::Orientation o, int role) const override;
    void refresh();
    const BarMark* mark(int row) const;

  private:
    Desk* desk_;
    std::vector<BarMark> marks_;
    std::vector<std::vector<std::string>> cells_;
};

class BarsTable : public QTableView {
    Q_OBJECT
  public:
    explicit BarsTable(Desk* desk, QWidget* parent = nullptr);
    BarsModel* rows() { return rows_; }
    QString head() const;  // "72 marks · 23.4 t with laps · …"
    void copy() const;

  protected:
    void keyPressEvent(QKeyEvent* e) override;

  private:
    Desk* desk_;
    BarsModel* rows_;
};

}  // namespace mossbed
