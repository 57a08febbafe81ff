#include "app/table_view.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <utility>

#include "app/field.h"
#include "app/tray/page.h"
#include "app/tray/parts.h"

namespace mossbed {
namespace {

constexpr int most_rows = 50000;  // that are taken from a clipboard

class Order : public QSortFilterProxyModel {
  public:
    explicit Order(TableModel* rows, QObject* parent) : QSortFilterProxyModel(parent), rows_(rows) {
        setSourceModel(rows);
        setSortRole(TableModel::sorted_by);
        setDynamicSortFilter(false);  // a row that is edited stays where it is
    }

  protected:
    bool lessThan(const QModelIndex& a, const QModelIndex& b) const override {
        const bool down = sortOrder() == Qt::DescendingOrder;
        if (a.row() >= rows_->n_things()) return down;  // the empty row stays last
        if (b.row() >= rows_->n_things()) return !down;
        const QVariant x = a.data(sortRole()), y = b.data(sortRole());
        if (x.isNull() || y.isNull()) return !x.isNull() && !down;
        if (x.typeId() == QMetaType::QString) return QString::localeAwareCompare(x.toString(), y.toString()) < 0;
        return x.toDouble() < y.toDouble();
    }

  private:
    TableModel* rows_;
};

bool is_right_aligned(const TableColumn& c) {
    return c.holds == TableColumn::number || (c.holds == TableColumn::shown && c.unit() != Unit::none);
}

bool are_on_the_plan(TableKind kind) { return kind != TableKind::strata && kind != TableKind::rules; }

// Of the empty row a table that cannot grow has none.
bool can_grow(TableKind kind) { return kind != TableKind::rules; }

// "C2" before "C10": by the letters, then by the number at the end.
QString name_to_sort(const QString& name) {
    int k = int(name.size());
    while (k > 0 && name[k - 1].isDigit()) --k;
    return name.left(k) + name.mid(k).rightJustified(8, '0');
}

}  // namespace

std::vector<QStringList> cells_of(const QString& text) {
    const QChar between = text.contains('\t') ? '\t' : text.contains(';') ? ';' : '\t';
    std::vector<QStringList> rows(1);
    QString cell;
    bool quoted = false;
    for (int i = 0; i < text.size(); ++i) {
        const QChar c = text[i];
        if (quoted) {
            if (c != '"')
                cell += c;
            else if (i + 1 < text.size() && text[i + 1] == '"')
                cell += c, ++i;
            else
                quoted = false;
        } else if (c == '"' && cell.isEmpty()) {
            quoted = true;
        } else if (c == between) {
            rows.back() << cell.trimmed(), cell.clear();
        } else if (c == '\n') {
            rows.back() << cell.trimmed(), cell.clear();
            rows.emplace_back();
        } else if (c != '\r') {
            cell += c;
        }
    }
    rows.back() << cell.trimmed();
    while (!rows.empty() && rows.back().join("").isEmpty()) rows.pop_back();
    return rows;
}

TableModel::TableModel(Desk* desk, TableKind kind, QObject* parent)
    : QAbstractTableModel(parent), desk_(desk), kind_(kind) {
    refresh();
}

bool TableModel::is_column_shown_alike(const std::vector<TableColumn>& before) const {
    return std::equal(before.begin(), before.end(), table_->columns().begin(), table_->columns().end(),
                      [](const TableColumn& a, const TableColumn& b) { return a.key == b.key && a.head == b.head; });
}

void TableModel::refresh() {
    const std::vector<TableColumn> before = table_ ? table_->columns() : std::vector<TableColumn>{};
    // Looked at only; what writes makes a table of its own copy.
    table_ = table_of(kind_, const_cast<Model&>(desk_->now()), options_);
    const int n = table_->n_rows();
    if (!is_column_shown_alike(before)) {
        beginResetModel();
        n_rows_ = n;
        return endResetModel();
    }
    if (n > n_rows_) {
        beginInsertRows({}, n_rows_, n - 1);
        n_rows_ = n;
        endInsertRows();
    } else if (n < n_rows_) {
        beginRemoveRows({}, n, n_rows_ - 1);
        n_rows_ = n;
        endRemoveRows();
    }
    Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
}

void TableModel::set_all_components(bool all) {
    options_.all_components = all;
    refresh();
}

int TableModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : n_rows_ + can_grow(kind_); }
int TableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : int(table_->columns().size());
}

std::optional<Thing> TableModel::thing(int row) const {
    if (row < 0 || row >= n_rows_) return {};
    return table_->thing(row);
}

QVariant TableModel::headerData(int s, Qt::Orientation o, int role) const {
    if (o != Qt::Horizontal || s >= columnCount()) return {};
    const TableColumn& c = table_->columns()[size_t(s)];
    if (role == Qt::DisplayRole) return q(c.head) + "\n" + q(name_of(c.unit()));
    if (role == Qt::ToolTipRole) return q(c.facts.help);
    if (role == Qt::TextAlignmentRole)
        return int((is_right_aligned(c) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return {};
}

Qt::ItemFlags TableModel::flags(const QModelIndex& i) const {
    const Qt::ItemFlags seen = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (!i.isValid() || i.column() >= columnCount()) return {};
    if (table_->columns()[size_t(i.column())].holds == TableColumn::shown) return seen;
    if (i.row() < n_rows_ && table_->cell(i.row(), i.column()).is_closed) return seen;
    return seen | Qt::ItemIsEditable;
}

QVariant TableModel::data(const QModelIndex& i, int role) const {
    if (!i.isValid() || i.row() > n_rows_ || i.column() >= columnCount()) return {};
    const TableColumn& c = table_->columns()[size_t(i.column())];
    if (role == Qt::TextAlignmentRole)
        return int((is_right_aligned(c) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    if (i.row() == n_rows_) {
        if (role == Qt::DisplayRole && i.column() == 0) return "new …";
        if (role == Qt::ForegroundRole) return QBrush(look::standard);
        return {};
    }
    const TableCell cell = table_->cell(i.row(), i.column());
    switch (role) {
        case Qt::DisplayRole:
            if (cell.is_closed && !cell.number && cell.text.empty()) return "–";
            return cell.number ? plain(*cell.number).replace('-', QChar(0x2212)) : q(cell.text);
        case Qt::EditRole:
            return cell.number ? plain(*cell.number) : q(cell.text);
        case Qt::ForegroundRole:
            return QBrush(cell.is_doubtful                     ? look::rust
                          : cell.is_standard || cell.is_closed ? look::standard
                                                               : look::ink);
        case Qt::ToolTipRole:
            if (cell.is_largest) return "the largest of the case";
            if (cell.is_missing) return "missing: most columns have one in this case";
            return q(cell.tip);
        case Qt::FontRole:
            return look::font(look::Size::small, cell.is_largest);
        case Qt::BackgroundRole:
            return cell.is_missing ? QVariant(QBrush(look::ochre_wash)) : QVariant();
        case sorted_by:
            if (cell.number) return *cell.number;
            return cell.text.empty() ? QVariant() : QVariant(name_to_sort(q(cell.text)));
        default:
            return {};
    }
}

QString TableModel::sums() const {
    QStringList parts;
    for (size_t c = 0; c < table_->columns().size(); ++c) {
        const TableColumn& of = table_->columns()[c];
        const size_t bar = of.key.rfind("/N");
        if (bar == std::string::npos || bar + 2 != of.key.size()) continue;
        parts << q(of.key.substr(0, bar)) + " " + look::number(table_->sum(int(c)), 0);
    }
    return QString("%1 columns · sum of N: %2 kN").arg(n_rows_).arg(parts.join(", "));
}

TableModel::Typed TableModel::read(const QString& text, const TableColumn& c) const {
    Typed t;
    if (c.holds != TableColumn::number) {
        t.text = text.toStdString();
        // A word may be begun: "circ" is enough.
        int fits = 0;
        for (const std::string& w : c.words)
            if (w == t.text) return t;
        std::string whole;
        for (const std::string& w : c.words)
            if (!text.isEmpty() && q(w).startsWith(text, Qt::CaseInsensitive)) whole = w, ++fits;
        if (fits == 1) t.text = whole;
        return t;
    }
    if (text.isEmpty()) return t;
    t.number = read_number(text, c.unit(), &t.why_not);
    if (t.number) t.why_not = fault_of(*t.number, range_of(c.facts), c.unit());
    return t;
}

QString TableModel::called(const Table& t, int row) const {
    const Thing at = t.thing(row);
    return q(at.id) + (kind_ == TableKind::layers ? QString(" layer %1").arg(at.part + 1) : QString());
}

bool TableModel::setData(const QModelIndex& i, const QVariant& value, int role) {
    if (role != Qt::EditRole || !i.isValid()) return false;
    const TableColumn c = table_->columns()[size_t(i.column())];
    const QString text = value.toString().trimmed();
    const bool is_new = i.row() >= n_rows_;
    if (is_new && text.isEmpty()) return false;
    Typed t = read(text, c);
    Model m = desk_->now();
    QString deed;
    if (t.why_not.isEmpty()) {
        const auto table = table_of(kind_, m, options_);
        std::string why;
        const int row = is_new ? table->add_row(-1, &why) : i.row();
        if (row >= 0) why = table->set(row, i.column(), t.number, t.text);
        t.why_not = q(why);
        if (row >= 0)
            deed = is_new ? QString("Add %1 %2").arg(one_of(kind_), called(*table, row))
                          : QString("Set %1 of %2").arg(q(c.head), called(*table, row));
    }
    if (!t.why_not.isEmpty()) {
        desk_->say(QString("“%1” is not taken as %2%3: %4.")
                       .arg(text, q(c.head), is_new ? QString() : " of " + called(*table_, i.row()), t.why_not),
                   true);
        return false;
    }
    if (c.key == "id" && !is_new)  // what is chosen is chosen by its name
        for (const Thing& before : {table_->thing(i.row())})
            if (desk_->chosen.erase(before)) desk_->chosen.insert({before.kind, t.text});
    desk_->document()->apply(deed, std::move(m));
    return true;
}

// One block of cells on its way into a copy of the model.
class TableModel::Pasting {
  public:
    Pasting(const TableModel& into, Model& m, const std::vector<QStringList>& block, std::vector<int> rows, int first)
        : into_(into),
          block_(block),
          rows_(std::move(rows)),
          first_(first),
          table_(table_of(into.kind_, m, into.options_)) {
        read_heads();
        for (size_t line = by_heads_ ? 1 : 0; line < block_.size() && !is_full_; ++line)
            if (!block_[line].join("").isEmpty()) take(line);
    }
    int added = 0, changed = 0;
    QString said() const {
        QString s = added ? QString("%1 added").arg(added) : QString();
        if (changed) s += (s.isEmpty() ? "" : ", ") + QString("%1 changed").arg(changed);
        s = QString("Pasted into %1: %2.").arg(name(), s.isEmpty() ? "nothing changed" : s);
        if (beyond_) s += QString(" %1 cells beyond the last column were left out.").arg(beyond_);
        if (n_refused_)
            s += QString(" %1 not taken: %2%3.").arg(n_refused_).arg(refused_.join("; "), n_refused_ > 3 ? " …" : "");
        return s;
    }
    QString deed() const { return added ? QString("Paste %1 %2").arg(added).arg(name()) : "Paste into " + name(); }
    bool is_clean() const { return n_refused_ == 0; }

  private:
    using Values = std::vector<std::pair<int, Typed>>;
    QString name() const { return q(title_of(into_.kind_)).toLower(); }
    const std::vector<TableColumn>& columns() const { return table_->columns(); }
    void refuse(size_t line, const QString& what, const QString& why) {
        if (++n_refused_ <= 3)
            refused_ << QString("line %1%2: %3").arg(line + 1).arg(what.isEmpty() ? "" : " " + what, why);
    }
    // With a line of heads, columns go by them and rows by their names; else by their places.
    void read_heads() {
        by_heads_ = true;
        for (const QString& head : block_[0]) {
            column_.push_back(table_->column_of(head.toStdString()));
            by_heads_ &= column_.back() >= 0;
        }
        if (by_heads_ && column_[0] == 0 && into_.kind_ != TableKind::layers)
            for (int r = 0; r < table_->n_rows(); ++r) named_[table_->thing(r).id] = r;
    }
    int column_at(int place) const {
        if (!by_heads_) return first_ + place;
        return place < int(column_.size()) ? column_[size_t(place)] : -1;
    }
    // What the cells of a line hold; false when one that is needed cannot be read.
    bool read(size_t line, Values& values) {
        bool all_needed = true;
        const QStringList& cells = block_[line];
        for (int j = 0; j < cells.size(); ++j) {
            const int c = column_at(j);
            if (c < 0 || c >= int(columns().size())) {
                beyond_ += !cells[j].isEmpty();
                continue;
            }
            const TableColumn& column = columns()[size_t(c)];
            // The thickness of a layer follows from its bottom.
            if (column.holds == TableColumn::shown || (column.key == "thickness" && cells.size() > 1)) continue;
            Typed t = into_.read(cells[j], column);
            if (t.why_not.isEmpty()) {
                values.emplace_back(c, std::move(t));
                continue;
            }
            refuse(line, QString("%1 “%2”").arg(q(column.head), cells[j].left(30)), t.why_not);
            all_needed &= !column.is_needed;
        }
        return all_needed;
    }
    int row_of(size_t line) {  // −1: a new one
        const auto it = by_heads_ && column_[0] == 0 ? named_.find(block_[line][0].toStdString()) : named_.end();
        const size_t place = place_++;
        if (it != named_.end()) return it->second;
        return !by_heads_ && place < rows_.size() ? rows_[place] : -1;
    }
    int new_row(size_t line, const Values& values) {  // −1 when there can be none
        for (size_t c = 0; c < columns().size(); ++c) {
            const auto holds = [&](const auto& v) {
                return v.first == int(c) && (v.second.number || !v.second.text.empty());
            };
            if (!columns()[c].is_needed || std::any_of(values.begin(), values.end(), holds)) continue;
            refuse(line, "", QString("a new %1 needs %2").arg(one_of(into_.kind_), q(columns()[c].head)));
            return -1;
        }
        std::string why;
        const int row = table_->add_row(-1, &why);
        if (row < 0) refuse(line, "", q(why)), is_full_ = true;
        return row;
    }
    void take(size_t line) {
        Values values;
        const bool sound = read(line, values);
        int row = row_of(line);
        const bool is_new = row < 0;
        if (is_new && (!sound || (row = new_row(line, values)) < 0)) return;
        added += is_new;
        bool any = false;
        for (const auto& [c, t] : values) {
            if (is_new && !t.number && t.text.empty()) continue;  // an empty cell leaves the default
            const TableCell at = table_->cell(row, c);
            if (at.is_closed || (at.number == t.number && at.text == t.text)) continue;
            const std::string why = table_->set(row, c, t.number, t.text);
            any |= why.empty();
            if (why.empty()) continue;
            refuse(line, q(columns()[size_t(c)].head), q(why));
            if (!is_new || !(columns()[size_t(c)].is_needed || c == 0)) continue;
            table_->drop_row(row);
            --added;
            return;
        }
        changed += any && !is_new;
    }

    const TableModel& into_;
    const std::vector<QStringList>& block_;
    std::vector<int> rows_;
    int first_;
    std::unique_ptr<Table> table_;
    bool by_heads_ = false, is_full_ = false;
    std::vector<int> column_;           // of each head
    std::map<std::string, int> named_;  // rows by name
    size_t place_ = 0;
    int n_refused_ = 0, beyond_ = 0;
    QStringList refused_;
};

void TableModel::paste(const QString& text, const std::vector<int>& rows, int first) {
    const std::vector<QStringList> block = cells_of(text);
    if (block.empty()) return;
    if (int(block.size()) > most_rows)
        return desk_->say(QString("%1 rows are more than the %2 that a table takes at once; nothing was pasted.")
                              .arg(block.size())
                              .arg(most_rows),
                          true);
    Model m = desk_->now();
    const Pasting done(*this, m, block, rows, first);
    if (done.added || done.changed) desk_->document()->apply(done.deed(), std::move(m));
    desk_->say(done.said(), !done.is_clean());
}

void TableModel::clear(const std::vector<std::pair<int, int>>& cells) {
    Model m = desk_->now();
    const auto table = table_of(kind_, m, options_);
    QString refused;
    for (const auto& [row, column] : cells) {
        if (row >= table->n_rows() || !(flags(index(row, column)) & Qt::ItemIsEditable)) continue;
        const std::string why = table->set(row, column, {}, "");
        if (!why.empty() && refused.isEmpty())
            refused = QString("%1 of %2 stays: %3.")
                          .arg(q(table->columns()[size_t(column)].head), called(*table, row), q(why));
    }
    desk_->document()->apply(QString("Clear cells of %1").arg(q(title_of(kind_)).toLower()), std::move(m));
    if (!refused.isEmpty()) desk_->say(refused, true);
}

void TableModel::add_row(int after) {
    Model m = desk_->now();
    const auto table = table_of(kind_, m, options_);
    std::string why;
    const int row = table->add_row(after, &why);
    if (row < 0) return desk_->say(q(why) + ".", true);
    const QString deed = QString("Add %1 %2").arg(one_of(kind_), called(*table, row));
    desk_->document()->apply(deed, std::move(m));
}

void TableModel::remove(const Things& things) {
    if (things.empty()) return desk_->say(QString("Choose the rows first: nothing is deleted."), false);
    Model m = desk_->now();
    const std::string why = remove_rows(kind_, m, things);
    if (!why.empty()) return desk_->say("Not deleted: " + q(why) + ".", true);
    const QString deed = kind_ == TableKind::columns || kind_ == TableKind::boreholes
                             ? words_of_deletion(things)
                             : QString("Delete %1 %2").arg(things.size()).arg(q(title_of(kind_)).toLower());
    desk_->document()->apply(deed, std::move(m));
}

TableView::TableView(Desk* desk, TableKind kind, QWidget* parent)
    : QTableView(parent), desk_(desk), rows_(new TableModel(desk, kind, this)), order_(new Order(rows_, this)) {
    setObjectName(QString("table-%1").arg(q(title_of(kind)).toLower()));
    setModel(order_);
    setItemDelegate(new CellDelegate(this));
    setFrameShape(QFrame::NoFrame);
    setFont(look::font(look::Size::small));
    setSortingEnabled(true);
    sortByColumn(-1, Qt::AscendingOrder);
    setEditTriggers(DoubleClicked | EditKeyPressed | AnyKeyPressed | SelectedClicked);
    setHorizontalScrollMode(ScrollPerPixel);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setFont(look::font(look::Size::small));
    setCornerButtonEnabled(false);
    connect(rows_, &QAbstractItemModel::modelReset, this, &TableView::fit_columns);
    fit_columns();
    connect(selectionModel(), &QItemSelectionModel::selectionChanged, this, &TableView::choose_as_selected);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::model) {
            // Rows that go take their selection along, which chooses nothing: other tables are not refreshed yet.
            const bool was = std::exchange(syncing_, true);
            rows_->refresh();
            syncing_ = was;
        }
        if (what & (Desk::model | Desk::choice)) select_as_chosen();
    });
}

void TableView::fit_columns() {
    const QFontMetrics m(look::font(look::Size::small));
    for (int c = 0; c < rows_->columnCount(); ++c) {
        const TableColumn& column = rows_->table().columns()[size_t(c)];
        const int least = column.holds == TableColumn::number                      ? 58
                          : column.holds == TableColumn::name                      ? 74
                          : column.key == "clause"                                 ? 420
                          : column.key == "what" || column.key == "set"            ? 200
                          : column.key == "E_basis" || column.key == "description" ? 150
                                                                                   : 84;
        setColumnWidth(c, std::max(least, m.horizontalAdvance(q(column.head)) + 26));
    }
}

std::vector<int> TableView::rows_from(int view_row) const {
    std::vector<int> out;
    for (int r = std::max(view_row, 0); r < order_->rowCount(); ++r)
        if (const int row = order_->mapToSource(order_->index(r, 0)).row(); row < rows_->n_things()) out.push_back(row);
    return out;
}

Things TableView::selected_things() const {
    Things out;
    for (const QItemSelectionRange& range : selectionModel()->selection())
        for (int r = range.top(); r <= range.bottom(); ++r)
            if (const auto t = rows_->thing(order_->mapToSource(order_->index(r, 0)).row())) out.insert(*t);
    return out;
}

void TableView::choose_as_selected() {
    if (syncing_) return;
    syncing_ = true;
    Things things;
    for (Thing t : selected_things()) {
        if (rows_->kind() == TableKind::layers) t.part = -1;  // the plan knows boreholes
        things.insert(t);
    }
    if (things != desk_->chosen && are_on_the_plan(rows_->kind())) desk_->choose(std::move(things));
    syncing_ = false;
}

void TableView::select_as_chosen() {
    if (syncing_ || rows_->kind() == TableKind::layers || !are_on_the_plan(rows_->kind())) return;
    if (state() == EditingState) return;
    syncing_ = true;
    QItemSelection all;
    int first = -1;
    for (int r = 0; r < order_->rowCount() && !desk_->chosen.empty(); ++r) {
        const auto t = rows_->thing(order_->mapToSource(order_->index(r, 0)).row());
        if (!t || !desk_->chosen.count(*t)) continue;
        if (first < 0) first = r;
        all.select(order_->index(r, 0), order_->index(r, order_->columnCount() - 1));
    }
    // Cells that are selected within the rows of what is chosen stay as they are.
    if (selected_things() != desk_->chosen) {
        selectionModel()->select(all, QItemSelectionModel::ClearAndSelect);
        if (first >= 0 && !hasFocus()) scrollTo(order_->index(first, 0));
    }
    syncing_ = false;
}

void TableView::copy() const {
    const QModelIndexList cells = selectionModel()->selectedIndexes();
    if (cells.isEmpty()) return;
    std::map<int, std::map<int, QString>> by_row;
    std::set<int> columns;
    for (const QModelIndex& i : cells) {
        const QModelIndex at = order_->mapToSource(i);
        if (at.row() >= rows_->n_things()) continue;
        const TableCell c = rows_->table().cell(at.row(), at.column());
        by_row[i.row()][i.column()] = c.number ? QString::number(*c.number, 'g', 12) : q(c.text);
        columns.insert(i.column());
    }
    QStringList lines;
    if (int(by_row.size()) == rows_->n_things() && int(columns.size()) == rows_->columnCount()) {  // all: with heads
        QStringList heads;
        for (const TableColumn& c : rows_->table().columns()) heads << q(c.full_head());
        lines << heads.join('\t');
    }
    for (const auto& [row, texts] : by_row) {
        QStringList line;
        for (int c : columns) {
            const auto it = texts.find(c);
            QString text = it == texts.end() ? QString() : it->second;
            if (text.contains('\t') || text.contains('\n') || text.contains('"'))
                text = '"' + text.replace("\"", "\"\"") + '"';
            line << text;
        }
        lines << line.join('\t');
    }
    QApplication::clipboard()->setText(lines.join('\n') + '\n');
}

void TableView::paste() {
    const QModelIndex at = currentIndex();
    rows_->paste(QApplication::clipboard()->text(), at.isValid() ? rows_from(at.row()) : std::vector<int>{},
                 at.isValid() ? at.column() : 0);
}

void TableView::fill_down() {
    std::set<int> rows, columns;
    for (const QModelIndex& i : selectionModel()->selectedIndexes())
        if (order_->mapToSource(i).row() < rows_->n_things()) rows.insert(i.row()), columns.insert(i.column());
    if (rows.size() < 2) return desk_->say("Select the cell to copy from and those below it, then Ctrl+D.");
    QStringList line;
    for (int c : columns) {
        const QModelIndex from = order_->mapToSource(order_->index(*rows.begin(), c));
        const TableCell cell = rows_->table().cell(from.row(), from.column());
        line << (cell.number ? QString::number(*cell.number, 'g', 12) : q(cell.text));
    }
    if (*columns.rbegin() - *columns.begin() + 1 != int(columns.size()) || *columns.begin() == 0)
        return desk_->say("Fill down takes one block of cells, without the names.", true);
    std::vector<int> below;
    QStringList lines;
    for (auto r = std::next(rows.begin()); r != rows.end(); ++r) {
        below.push_back(order_->mapToSource(order_->index(*r, 0)).row());
        lines << line.join('\t');
    }
    rows_->paste(lines.join('\n') + '\n', below, *columns.begin());
}

void TableView::add_row() {
    const QModelIndex at = currentIndex();
    rows_->add_row(at.isValid() ? order_->mapToSource(at).row() : -1);
    const int row = order_->rowCount() - 2;
    if (rows_->kind() == TableKind::layers || row < 0) return;
    setFocus();
    setCurrentIndex(order_->index(row, 1));
    scrollTo(currentIndex());
}

void TableView::delete_rows() { rows_->remove(selected_things()); }

void TableView::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    if (e->matches(QKeySequence::Paste)) return paste();
    if (e->key() == Qt::Key_D && e->modifiers() == Qt::ControlModifier) return fill_down();
    if (e->key() == Qt::Key_Delete || e->key() == Qt::Key_Backspace) {
        std::vector<std::pair<int, int>> cells;
        for (const QModelIndex& i : selectionModel()->selectedIndexes()) {
            const QModelIndex at = order_->mapToSource(i);
            cells.emplace_back(at.row(), at.column());
        }
        return rows_->clear(cells);
    }
    if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && state() != EditingState &&
        currentIndex().isValid())
        return edit(currentIndex());
    QTableView::keyPressEvent(e);
}

void TableView::closeEditor(QWidget* editor, QAbstractItemDelegate::EndEditHint hint) {
    const QModelIndex at = currentIndex();
    QTableView::closeEditor(editor, hint);
    if (hint == QAbstractItemDelegate::SubmitModelCache && at.isValid())  // Enter: on to the one below
        setCurrentIndex(order_->index(std::min(at.row() + 1, order_->rowCount() - 1), at.column()));
}

}  // namespace mossbed
