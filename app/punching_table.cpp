#include "app/punching_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>

#include "app/table_look.h"
#include "app/tray/parts.h"

namespace mossbed {
namespace {

enum Column { item, use, combination, where, off, perimeter, V, relief, net, beta, v, limit, face, note, n_columns };
constexpr std::array heads{"place",      "use    ", "by", "perimeter",   "off, m",     "length, m", "V, kN",
                           "inside, kN", "net, kN", "β",  "stress, MPa", "borne, MPa", "face, use", "note"};

bool is_words(int column) { return column == item || column == combination || column == where || column == note; }

}  // namespace

PunchingModel::PunchingModel(Desk* desk, QObject* parent) : QAbstractTableModel(parent), desk_(desk) { refresh(); }

int PunchingModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(lines_.size()); }
int PunchingModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : n_columns; }

void PunchingModel::refresh() {
    beginResetModel();
    lines_.clear();
    std::map<std::string, const PunchingAnswer*> found;
    if (desk_->answer())
        for (const PunchingAnswer& p : desk_->answer()->punching) found[p.id] = &p;
    for (const Row& r : desk_->rows()) {
        if (r.id != "punching") continue;
        Line l{r, {}};
        l.row.working = {};
        if (const auto it = found.find(r.item); it != found.end()) l.found = *it->second;
        lines_.push_back(std::move(l));
    }
    endResetModel();
    sort(column_, order_);
}

std::optional<double> PunchingModel::number(const Line& l, int column) const {
    if (column == use) return l.row.utilisation;
    if (!l.found) return {};
    const PunchingAnswer& p = *l.found;
    switch (column) {
        case off:
            return p.a;
        case perimeter:
            return p.perimeter;
        case V:
            return p.V;
        case relief:
            return p.relief;
        case net:
            return p.V_net;
        case beta:
            return p.beta;
        case v:
            return p.v;
        case limit:
            return p.v_limit;
        case face:
            return p.face ? std::optional(p.face->utilisation) : std::nullopt;
        default:
            return {};
    }
}

QString PunchingModel::text_of(int at, int column) const {
    const Line& l = lines_[size_t(at)];
    if (column == item) return q(l.row.item.empty() ? l.row.title : l.row.item);
    if (column == combination) return q(l.row.combination);
    if (column == note) return q(l.row.note);
    if (column == where)
        return l.found ? q(l.found->position) + (l.found->governs == "perimeter" ? "" : ", " + q(l.found->governs))
                       : "";
    const auto n = number(l, column);
    if (column == use && !n) return l.row.status == Status::over ? "over" : "not checked";
    if (!n) return "";
    const int digits = column == V || column == relief || column == net ? 0 : 2;
    return look::number(*n, digits);
}

QVariant PunchingModel::data(const QModelIndex& i, int role) const {
    if (!i.isValid()) return {};
    const Line& l = lines_[size_t(i.row())];
    if (role == Qt::DisplayRole) return text_of(i.row(), i.column());
    if (role == Qt::ToolTipRole) return q(l.row.note);
    if (role == Qt::TextAlignmentRole)
        return int((is_words(i.column()) ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    if (role == Qt::ForegroundRole && desk_->is_behind(l.row)) return look::standard;
    if (role == Qt::ForegroundRole && i.column() == use && l.row.status != Status::pass) return look::rust;
    if (role == Qt::FontRole && i.column() == use) {
        QFont f = look::font(look::Size::small);
        f.setBold(true);
        return f;
    }
    return {};
}

QVariant PunchingModel::headerData(int section, Qt::Orientation o, int role) const {
    if (o != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole)
        return int((is_words(section) ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return role == Qt::DisplayRole ? QVariant(heads[size_t(section)]) : QVariant();
}

// Numbers by size, words by the alphabet; what has no number stands last, but of the use what is not checked first.
void PunchingModel::sort(int column, Qt::SortOrder order) {
    column_ = column, order_ = order;
    beginResetModel();
    std::vector<int> at(lines_.size());
    std::iota(at.begin(), at.end(), 0);
    const bool words = is_words(column);
    auto size = [&](int k) {
        const Line& l = lines_[size_t(k)];
        if (column == use && !l.row.utilisation) return 1e9;
        return number(l, column).value_or(-1e9);
    };
    std::stable_sort(at.begin(), at.end(), [&](int a, int b) {
        const bool less = words ? text_of(a, column) < text_of(b, column) : size(a) < size(b);
        const bool more = words ? text_of(b, column) < text_of(a, column) : size(b) < size(a);
        return order == Qt::AscendingOrder ? less : more;
    });
    std::vector<Line> sorted;
    for (int k : at) sorted.push_back(std::move(lines_[size_t(k)]));
    lines_ = std::move(sorted);
    endResetModel();
}

const Row* PunchingModel::row(int at) const {
    return at >= 0 && at < int(lines_.size()) ? &lines_[size_t(at)].row : nullptr;
}
int PunchingModel::row_of(const std::string& of) const {
    for (size_t k = 0; k < lines_.size(); ++k)
        if (lines_[k].row.item == of) return int(k);
    return -1;
}

PunchingTable::PunchingTable(Desk* desk, QWidget* parent)
    : QTableView(parent), desk_(desk), rows_(new PunchingModel(desk, this)) {
    setObjectName("table-punching");
    setModel(rows_);
    make_read_only(*this);
    horizontalHeader()->setSortIndicator(1, Qt::DescendingOrder);
    setSortingEnabled(true);
    const std::array widths{110, 84, 90, 104, 56, 72, 64, 74, 64, 48, 84, 82, 70, 300};
    for (int c = 0; c < n_columns; ++c) setColumnWidth(c, widths[size_t(c)]);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& to) {
        const Row* r = rows_->row(to.row());
        if (!syncing_ && r) desk_->fly_to(*r);
    });
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::answers) {
            syncing_ = true;
            rows_->refresh();
            syncing_ = false;
        }
        if (what & (Desk::answers | Desk::choice | Desk::view)) follow();
    });
    follow();
}

void PunchingTable::follow() {
    const int at = rows_->row_of(desk_->punched());
    if (at < 0 || at == currentIndex().row()) return;
    syncing_ = true;
    selectRow(at);
    syncing_ = false;
}

void PunchingTable::copy() const {
    QStringList lines;
    QStringList head;
    for (const char* h : heads) head << h;
    lines << head.join('\t');
    for (int r = 0; r < rows_->rowCount(); ++r) {
        QStringList cells;
        for (int c = 0; c < n_columns; ++c) cells << rows_->text_of(r, c);
        lines << cells.join('\t');
    }
    QApplication::clipboard()->setText(lines.join('\n'));
}

void PunchingTable::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    QTableView::keyPressEvent(e);
}

}  // namespace mossbed
