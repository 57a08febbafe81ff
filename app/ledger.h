// The Ledger: every check, worst first. A row: bar of use with a tick at 1.0, value over limit, combination, place, and
// the move since the last edit. Rows of one kind fold under their worst. Click flies there and shows the whole reason;
// Enter opens the Working; a row that lacks something leads to it.
#pragma once
#include <QAbstractListModel>
#include <QListView>
#include <set>

#include "app/desk.h"

namespace mossbed {

class LedgerModel : public QAbstractListModel {
    Q_OBJECT
  public:
    struct Entry {
        int row = 0;               // of the desk's
        int others = 0, over = 0;  // of its group, and how many of them are over
        bool is_open = false;      // the others follow
        bool is_inside = false;    // one of those
    };
    explicit LedgerModel(Desk* desk, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& i, int role) const override;  // display: one line, as copied and read aloud
    const Row* row(const QModelIndex& i) const;
    const Entry* entry(const QModelIndex& i) const;
    int index_of(const std::string& key) const;  // −1 when it is folded away or gone
    void renew();                                // the rows changed
    void search(const QString& text);            // rows that say so, unfolded
    void only_moved(bool on);                    // since the last edit
    void fold(const QModelIndex& i);             // or unfold
    void unfold_to(const std::string& key);
    bool is_filtered() const { return !words_.isEmpty() || moved_; }
    static QString use_in_words(double use);
    static QString subtitle(const Desk* desk, const Row& r);
    static constexpr int few = 12;  // rows of a kind that stand unfolded

  private:
    static std::string group_of(const Row& r);
    bool is_wanted(const Row& r) const;
    Desk* desk_;
    std::vector<Entry> entries_;
    std::map<std::string, bool> open_;  // by group, where the engineer said so
    QString words_;
    bool moved_ = false;
};

class Ledger : public QListView {
    Q_OBJECT
  public:
    explicit Ledger(Desk* desk, QWidget* parent = nullptr);
    QString summary() const;  // "3 over · 2 not checked", "all 41 pass"
    LedgerModel* entries() { return rows_; }
    void open_working();  // of the row in hand
    void show_row(const std::string& key);
    static QString link_of(const Row& r);  // "set it ›"; empty where it leads nowhere

  Q_SIGNALS:
    void working_wanted(std::string key);
    void lead_wanted(std::string path);  // to a field or a page

  protected:
    void keyPressEvent(QKeyEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    void currentChanged(const QModelIndex& now, const QModelIndex& before) override;
    void resizeEvent(QResizeEvent* e) override;

  private:
    Desk* desk_;
    LedgerModel* rows_;
    std::string current_key_;
};

}  // namespace mossbed
