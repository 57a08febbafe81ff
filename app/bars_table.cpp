#include "app/bars_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>

#include "app/table_look.h"
#include "app/tray/parts.h"
#include "core/bars/schedule.h"

namespace mossbed {
namespace {

enum Column { mark, diameter, shape, A, B, C, D, E, length, number, total, weight, face, direction, where, n_columns };
constexpr std::array heads{"mark",       "ϕ, mm",  "shape",    "A, mm",      "B, mm", "C, mm",     "D, mm", "E, mm",
                           "length, mm", "number", "total, m", "weight, kg", "face",  "direction", "where"};
bool is_words(int column) { return column == mark || column == shape || column >= face; }

}  // namespace

int BarsModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(cells_.size()); }
int BarsModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : n_columns; }

void BarsModel::refresh() {
    beginResetModel();
    marks_ = desk_->bars().marks;
    cells_ = schedule_rows(desk_->bars());
    endResetModel();
}

QVariant BarsModel::data(const QModelIndex& i, int role) const {
    if (!i.isValid()) return {};
    if (role == Qt::DisplayRole) {
        if (i.column() == total || i.column() == weight) {
            const BarMark& m = marks_[size_t(i.row())];
            return look::number(i.column() == total ? m.total_length() : m.kg(), 1);
        }
        return q(cells_[size_t(i.row())][size_t(i.column())]);
    }
    if (role == Qt::TextAlignmentRole)
        return int((is_words(i.column()) ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    if (role == Qt::ForegroundRole && desk_->is_old()) return look::standard;
    return {};
}

QVariant BarsModel::headerData(int section, Qt::Orientation o, int role) const {
    if (o != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole)
        return int((is_words(section) ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return role == Qt::DisplayRole ? QVariant(heads[size_t(section)]) : QVariant();
}

const BarMark* BarsModel::mark(int row) const {
    return row >= 0 && row < int(marks_.size()) ? &marks_[size_t(row)] : nullptr;
}

BarsTable::BarsTable(Desk* desk, QWidget* parent) : QTableView(parent), desk_(desk), rows_(new BarsModel(desk, this)) {
    setObjectName("table-bars");
    setModel(rows_);
    make_read_only(*this);
    const std::array widths{54, 50, 52, 58, 58, 58, 58, 58, 78, 62, 74, 80, 64, 72, 120};
    for (int c = 0; c < n_columns; ++c) setColumnWidth(c, widths[size_t(c)]);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& to) {
        const BarMark* m = rows_->mark(to.row());
        if (!m || m->direction.empty()) return;
        const Face f = m->face.empty() ? desk_->bars_face : m->face == "top" ? Face::top : Face::bottom;
        desk_->look_at_bars(f, m->direction == "y" ? Direction::y : Direction::x);
    });
    connect(desk, &Desk::changed, this, [this](int what) {
        if ((what & Desk::answers) && isVisible()) rows_->refresh();
    });
}

QString BarsTable::head() const {
    const LaidBars& list = desk_->bars();
    if (list.marks.empty()) return "no bars yet: they come with the answer";
    return QString("%1 marks · %2 t, laps and all · Ctrl+C copies the table · Esc shows the Cut")
        .arg(list.marks.size())
        .arg(look::number(list.kg() / 1000, 1));
}

void BarsTable::copy() const {
    QStringList lines;
    auto add = [&lines](const std::vector<std::string>& cells) {
        QStringList row;
        for (const std::string& c : cells) row << q(c);
        lines << row.join('\t');
    };
    add(schedule_heads());
    for (const auto& cells : schedule_rows(desk_->bars())) add(cells);
    QApplication::clipboard()->setText(lines.join('\n'));
}

void BarsTable::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    QTableView::keyPressEvent(e);
}

}  // namespace mossbed
