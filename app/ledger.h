// The Ledger: every check, worst first. A row: bar of use with a tick at 1.0, value over limit, combination, place, and
// the move since the last edit. Click flies there; Enter opens the Working.
#pragma once
#include <QAbstractListModel>
#include <QListView>

#include "app/desk.h"

namespace mossbed {

class LedgerModel : public QAbstractListModel {
    Q_OBJECT
  public:
    explicit LedgerModel(Desk* desk, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;  // display: one line, as copied and read aloud
    const Row* row(const QModelIndex& i) const;
    static QString use_in_words(double use);
    static QString subtitle(const Desk* desk, const Row& r);

  private:
    Desk* desk_;
};

class Ledger : public QListView {
    Q_OBJECT
  public:
    explicit Ledger(Desk* desk, QWidget* parent = nullptr);
    QString summary() const;  // "3 over · 2 not checked", "all 41 pass"

  Q_SIGNALS:
    void working_wanted(int row);

  protected:
    void keyPressEvent(QKeyEvent* e) override;

  private:
    Desk* desk_;
    LedgerModel* rows_;
    std::string current_key_;
};

}  // namespace mossbed
