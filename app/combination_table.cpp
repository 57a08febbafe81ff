#include "app/combination_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPainter>

#include "app/field.h"
#include "app/ledger.h"
#include "app/line.h"
#include "app/table_view.h"
#include "app/tray/parts.h"
#include "core/codes/combination_edits.h"

namespace mossbed {
namespace {

constexpr int folds_past = 12;  // rows of a group
constexpr int bar_width = 42, number_width = 46;

const char* work_of(Purpose p) {
    switch (p) {
        case Purpose::service:
            return "Service · sizes the base";
        case Purpose::strength:
            return "Strength · designs concrete and steel";
        case Purpose::stability:
            return "Stability · turns, slides, floats";
        case Purpose::trace:
            return "Trace · looked at only";
    }
    return "";
}

QString factor_text(double f) { return f == 0 ? QString() : QString::number(f, 'g', 6).replace('-', QChar(0x2212)); }

class RowDelegate : public CellDelegate {
  public:
    RowDelegate(Desk* desk, CombinationModel* rows, QObject* parent) : CellDelegate(parent), desk_(desk), rows_(rows) {}
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& i) const override {
        if (const auto group = rows_->head(i.row())) {
            const auto* view = qobject_cast<const QAbstractItemView*>(o.widget);
            const QRect seen = view ? o.rect.intersected(view->viewport()->rect()) : o.rect;
            return draw_head(*p, o.rect, seen, *group);
        }
        const auto result = rows_->result_at(i.column());
        const Combination* c = rows_->row(i.row());
        if (!result || !c) return CellDelegate::paint(p, o, i);
        p->save();
        if (o.state & QStyle::State_Selected) p->fillRect(o.rect, look::moss_wash);
        if (!desk_->in_step()) p->setOpacity(0.45);  // of the last full answer
        if (const CombinationSummary* s = desk_->summary_of(c->id); s && c->active)
            draw_result(*p, o.rect, *result, *s);
        p->restore();
    }

  private:
    void draw_head(QPainter& p, const QRect& box, const QRect& seen, Purpose group) const {
        p.save();
        p.fillRect(box, look::panel);
        p.setPen(look::ink);
        p.setFont(look::font(look::Size::small, true));
        p.drawText(seen.adjusted(6, 0, -8, 0), Qt::AlignLeft | Qt::AlignVCenter, work_of(group));
        p.setPen(look::faint);
        p.setFont(look::font(look::Size::small));
        p.drawText(seen.adjusted(6, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, rows_->about(group));
        p.restore();
    }
    void draw_result(QPainter& p, const QRect& box, CombinationModel::Result r, const CombinationSummary& s) const {
        p.setFont(look::font(look::Size::small));
        if (s.ending != Ending::solved) {
            if (r != CombinationModel::pressure) return;
            p.setPen(look::rust);
            p.drawText(box.adjusted(4, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                       QString::fromUtf8(name_of(s.ending)));
            return;
        }
        double share = 0, tick = -1;
        QString text;
        QColor colour = look::colour(Role::pressure_line);
        bool over = false;
        switch (r) {
            case CombinationModel::pressure:
                share = s.max_pressure / rows_->largest_pressure();
                if (s.pressure_limit) tick = *s.pressure_limit / rows_->largest_pressure();
                over = s.pressure_limit && s.max_pressure > *s.pressure_limit;
                text = look::number(s.max_pressure, 0);
                break;
            case CombinationModel::contact:
                share = s.contact_ratio;
                if (s.contact_limit) tick = *s.contact_limit;
                over = s.contact_limit && s.contact_ratio < *s.contact_limit;
                // A lifted corner is never rounded away.
                text =
                    look::number(100 * s.contact_ratio, s.contact_ratio > 0.995 && s.contact_ratio < 1 ? 1 : 0) + " %";
                break;
            case CombinationModel::settlement:
                share = std::max(0.0, s.max_settlement) / rows_->largest_settlement();
                if (s.settlement_limit) tick = *s.settlement_limit / rows_->largest_settlement();
                over = s.settlement_limit && s.max_settlement > *s.settlement_limit;
                text = look::number(1000 * s.max_settlement, 1);
                break;
            case CombinationModel::use:
                if (!s.worst_use) return;
                share = 0.8 * *s.worst_use, tick = 0.8;
                over = s.is_over;
                colour = look::colour_of_use(*s.worst_use, over);
                text = LedgerModel::use_in_words(*s.worst_use);
                break;
        }
        const QRectF bar(box.left() + 4, box.center().y() - 3, bar_width, 7);
        p.fillRect(bar, look::pale);
        QRectF filled = bar;
        filled.setWidth(bar.width() * std::clamp(share, 0.0, 1.0));
        p.fillRect(filled, over ? look::rust : colour);
        if (tick > 0 && tick <= 1.001) {
            p.setPen(QPen(look::ink, 1.2));
            const double x = bar.left() + tick * bar.width();
            p.drawLine(QPointF(x, bar.top() - 3), QPointF(x, bar.bottom() + 3));
        }
        p.setPen(over ? look::rust : look::ink);
        if (over) p.setFont(look::font(look::Size::small, true));
        p.drawText(QRectF(bar.right() + 4, box.top(), box.right() - bar.right() - 8, box.height()),
                   Qt::AlignRight | Qt::AlignVCenter, text);
    }
    Desk* desk_;
    CombinationModel* rows_;
};

}  // namespace

CombinationModel::CombinationModel(Desk* desk, QObject* parent) : QAbstractTableModel(parent), desk_(desk) {
    refresh();
}

int CombinationModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(lines_.size()); }
int CombinationModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : int(heads_.size()) + (sums_ ? 10 : 6);
}

namespace {
constexpr const char* sum_heads[] = {"loads Fz", "Mx, kN·m", "My", "ground Fz", "Mx, kN·m", "My", "Hx, kN", "Hy"};
}

std::optional<double> CombinationModel::sum_at(const Combination& c, int column) const {
    const CombinationSummary* s = desk_->summary_of(c.id);
    if (!s || !c.active) return {};
    const double all[] = {s->applied.Fz, s->applied.Mx, s->applied.My, s->ground.Fz,
                          s->ground.Mx,  s->ground.My,  s->Hx,         s->Hy};
    const int k = column - 2 - int(heads_.size());
    if (k >= 3 && k < 6 && s->ending != Ending::solved) return {};
    return k >= 0 && k < 8 ? std::optional(all[k]) : std::nullopt;
}

void CombinationModel::show_sums(bool on) {
    beginResetModel();
    sums_ = on, sort_column_ = -1;
    endResetModel();
}

const Combination* CombinationModel::row(int r) const {
    if (r < 0 || r >= int(lines_.size()) || lines_[size_t(r)].of < 0) return nullptr;
    const auto& all = desk_->combinations();
    return size_t(lines_[size_t(r)].of) < all.size() ? &all[size_t(lines_[size_t(r)].of)] : nullptr;
}
std::optional<Purpose> CombinationModel::head(int r) const {
    if (r < 0 || r >= int(lines_.size()) || lines_[size_t(r)].of >= 0) return {};
    return lines_[size_t(r)].group;
}
int CombinationModel::row_of(const std::string& id) const {
    for (int r = 0; r < int(lines_.size()); ++r)
        if (const Combination* c = row(r); c && c->id == id) return r;
    return -1;
}
std::optional<CombinationModel::Result> CombinationModel::result_at(int column) const {
    const int k = column - 2 - int(heads_.size());
    return k < 0 || sums_ ? std::nullopt : std::optional(Result(k));
}

QString CombinationModel::about(Purpose group) const {
    const auto it = n_rows_.find(group);
    if (it == n_rows_.end()) return {};
    const auto [all, folded] = it->second;
    QString text = QString("%1 row%2").arg(all).arg(all == 1 ? "" : "s");
    const auto open = is_open_.find(group);
    if (folded > 0) return text + QString(" · %1 that govern nothing folded away ▸").arg(folded);
    if (all > folds_past || (open != is_open_.end() && open->second)) text += " ▾";
    return text;
}

void CombinationModel::turn(Purpose group) {
    const auto it = n_rows_.find(group);
    is_open_[group] = it != n_rows_.end() && it->second.second > 0;
    refresh();
}

double CombinationModel::sorted_by(const Combination& c) const {
    const auto result = result_at(sort_column_);
    const CombinationSummary* s = desk_->summary_of(c.id);
    if (sort_column_ >= 2 + int(heads_.size()) && sums_) return sum_at(c, sort_column_).value_or(-1e300);
    if (!result) {
        const auto it = c.factors.find(heads_[size_t(sort_column_ - 2)]);
        return it == c.factors.end() ? 0 : it->second;
    }
    if (!s) return -1e300;
    const double v = *result == pressure     ? s->max_pressure
                     : *result == contact    ? s->contact_ratio
                     : *result == settlement ? s->max_settlement
                                             : s->worst_use.value_or(-1);
    return std::isnan(v) ? -1e300 : v;
}

void CombinationModel::refresh() {
    const auto& all = desk_->combinations();
    std::vector<std::string> heads;
    for (const LoadCase& c : desk_->now().loads.cases) heads.push_back(c.id);
    most_pressure_ = 1, most_settlement_ = 1e-3;
    for (const CombinationSummary& s : desk_->summaries()) {
        for (double v : {s.max_pressure, s.pressure_limit.value_or(0)})
            if (v > most_pressure_) most_pressure_ = v;
        for (double v : {s.max_settlement, s.settlement_limit.value_or(0)})
            if (v > most_settlement_) most_settlement_ = v;
    }
    std::vector<Line> lines;
    n_rows_.clear();
    if (heads != heads_) sort_column_ = -1;
    const bool same_heads = heads == heads_;
    heads_ = heads;
    for (size_t p = 0; p < Words<Purpose>::all.size(); ++p) {
        const Purpose group = Purpose(p);
        std::vector<int> rows;
        int folded = 0;
        const long n = std::count_if(all.begin(), all.end(), [&](const Combination& c) { return c.purpose == group; });
        const auto turned = is_open_.find(group);
        const bool open = turned != is_open_.end() ? turned->second : n <= folds_past;
        for (int i = 0; i < int(all.size()); ++i) {
            const Combination& c = all[size_t(i)];
            if (c.purpose != group) continue;
            const CombinationSummary* s = desk_->summary_of(c.id);
            const bool says_something = !s || s->governs > 0 || s->ending != Ending::solved;
            if (open || (c.active && says_something) || c.id == desk_->combination_id || desk_->summaries().empty())
                rows.push_back(i);
            else
                ++folded;
        }
        if (n == 0) continue;
        if (sort_column_ >= 0)
            std::stable_sort(rows.begin(), rows.end(), [&](int a, int b) {
                const Combination &x = all[size_t(a)], &y = all[size_t(b)];
                if (sort_column_ < 2) {
                    const QString l = sort_column_ ? rule_of(x) : q(x.id), r = sort_column_ ? rule_of(y) : q(y.id);
                    return sort_order_ == Qt::AscendingOrder ? l < r : r < l;
                }
                return sort_order_ == Qt::AscendingOrder ? sorted_by(x) < sorted_by(y) : sorted_by(y) < sorted_by(x);
            });
        n_rows_[group] = {int(n), folded};
        lines.push_back({group, -1});
        for (int i : rows) lines.push_back({group, i});
    }
    if (same_heads && lines == lines_) {  // what is being typed or selected stays
        if (!lines_.empty()) Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
        return;
    }
    beginResetModel();
    lines_ = std::move(lines);
    endResetModel();
}

void CombinationModel::sort(int column, Qt::SortOrder order) {
    sort_column_ = column, sort_order_ = order;
    refresh();
}

QString CombinationModel::rule_of(const Combination& c) const {
    return q(c.title.empty() ? rule_in_short(c) : c.title);
}

QVariant CombinationModel::data(const QModelIndex& i, int role) const {
    const Combination* c = row(i.row());
    if (!c)
        return role == Qt::DisplayRole && i.column() == 0 ? QVariant(work_of(lines_[size_t(i.row())].group))
                                                          : QVariant();
    const bool is_factor = i.column() >= 2 && i.column() < 2 + int(heads_.size());
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole:
            if (i.column() == 0) return q(c->id);
            if (i.column() == 1) return role == Qt::EditRole ? q(c->title) : rule_of(*c);
            if (is_factor) {
                const auto it = c->factors.find(heads_[size_t(i.column() - 2)]);
                const double f = it == c->factors.end() ? 0 : it->second;
                return role == Qt::EditRole ? QString::number(f, 'g', 6) : factor_text(f);
            }
            return text_of(i.row(), i.column());
        case Qt::TextAlignmentRole:
            return int((i.column() < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
        case Qt::FontRole: {
            QFont f = look::font(look::Size::small, i.column() == 0 && c->id == desk_->combination_id);
            f.setStrikeOut(!c->active && i.column() < 2);
            return f;
        }
        case Qt::ForegroundRole:
            return QBrush(!c->active || (i.column() == 1 && c->title.empty()) ? look::faint : look::ink);
        case Qt::ToolTipRole: {
            QString tip = q(c->generated_by.value_or("made by hand"));
            if (!c->active) tip += "\nswitched off: it is not solved";
            if (const CombinationSummary* s = desk_->summary_of(c->id); s && s->worst_use)
                tip += QString("\nworst: %1, use %2").arg(q(s->worst_of), LedgerModel::use_in_words(*s->worst_use));
            return tip;
        }
        default:
            return {};
    }
}

QString CombinationModel::text_of(int r, int column) const {
    const Combination* c = row(r);
    if (!c) return {};
    const auto result = result_at(column);
    if (column >= 2 + int(heads_.size()) && sums_) {
        const auto v = sum_at(*c, column);
        return v ? look::number(*v, 0) : QString();
    }
    if (!result) return data(index(r, column), column < 2 ? Qt::DisplayRole : Qt::EditRole).toString();
    const CombinationSummary* s = desk_->summary_of(c->id);
    if (!s || !c->active) return {};
    if (s->ending != Ending::solved) return *result == pressure ? QString::fromUtf8(name_of(s->ending)) : QString();
    switch (*result) {
        case pressure:
            return QString::number(s->max_pressure, 'f', 1);
        case contact:
            return QString::number(100 * s->contact_ratio, 'f', 1);
        case settlement:
            return QString::number(1000 * s->max_settlement, 'f', 2);
        case use:
            return s->worst_use ? QString::number(*s->worst_use, 'f', 3) : QString();
    }
    return {};
}

QVariant CombinationModel::headerData(int section, Qt::Orientation o, int role) const {
    if (o != Qt::Horizontal) return {};
    const auto result = result_at(section);
    if (role == Qt::TextAlignmentRole) return int((section < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    const bool is_factor = section >= 2 && section < 2 + int(heads_.size());
    if (role == Qt::ToolTipRole && is_factor) return q(load_case(section).title);
    if (role != Qt::DisplayRole) return {};
    if (section == 0) return "row";
    if (section == 1) return "rule or note";
    if (section >= 2 + int(heads_.size()) && sums_) return sum_heads[section - 2 - int(heads_.size())];
    if (!result) return q(heads_[size_t(section - 2)]);
    static const char* const heads[] = {"largest, kPa", "in contact", "settles, mm", "worst use"};
    return heads[*result];
}

Qt::ItemFlags CombinationModel::flags(const QModelIndex& i) const {
    if (!row(i.row())) return Qt::ItemIsEnabled;
    const Qt::ItemFlags base = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    return i.column() >= 2 + int(heads_.size()) ? base : base | Qt::ItemIsEditable;
}

void CombinationModel::say_if_by_hand(const Combination& before) {
    if (!before.generated_by) return;
    const Combination* c = find_id(desk_->combinations(), before.id);
    if (c && !c->generated_by)
        desk_->say(QString("%1 is made by hand from now on: the rules leave it alone.").arg(q(before.id)));
}

bool CombinationModel::setData(const QModelIndex& i, const QVariant& value, int role) {
    const Combination* at = row(i.row());
    if (role != Qt::EditRole || !at) return false;
    const Combination before = *at;
    const QString text = value.toString().trimmed();
    Model m = desk_->now();
    std::string why;
    QString deed;
    if (i.column() == 0) {
        deed = QString("Name combination %1").arg(text);
        why = rename_combination(m, before.id, text.toStdString());
        if (why.empty() && desk_->combination_id == before.id) desk_->combination_id = text.toStdString();
    } else if (i.column() == 1) {
        if (text.toStdString() == before.title) return false;
        deed = QString("Note on %1").arg(q(before.id));
        set_note(m, before.id, text.toStdString());
    } else {
        QString no;
        const auto v = text.isEmpty() ? std::optional(0.0) : read_number(text, Unit::none, &no);
        if (!v) return desk_->say("The factor is not taken: " + no + ".", true), false;
        deed = QString("Set a factor of %1").arg(q(before.id));
        why = set_factor(m, before.id, heads_[size_t(i.column() - 2)], *v);
    }
    if (!why.empty()) return desk_->say("Not done: " + q(why) + ".", true), false;
    desk_->document()->apply(deed, std::move(m));
    say_if_by_hand(before);
    return true;
}

void CombinationModel::paste(const QString& text, int r, int column) {
    const std::vector<QStringList> block = cells_of(text);
    if (block.empty()) return;
    Model m = desk_->now();
    int done = 0;
    QStringList refused;
    std::vector<std::string> ids;  // of the rows from here on, heads left out
    for (int k = r; k < rowCount(); ++k)
        if (const Combination* c = row(k)) ids.push_back(c->id);
    for (size_t line = 0; line < block.size(); ++line) {
        std::string id = line < ids.size() ? ids[line] : add_combination(m, ids.empty() ? "" : ids.back());
        for (int c = 0; c < block[line].size(); ++c) {
            const int to = column + c;
            const QString cell = block[line][c].trimmed();
            if (to >= 2 + int(heads_.size())) continue;
            std::string why;
            if (to == 0) {
                if (cell.isEmpty()) continue;
                why = rename_combination(m, id, cell.toStdString());
                if (why.empty()) id = cell.toStdString();
            } else if (to == 1) {
                const std::vector<Combination> now = combinations_in(m);
                const Combination* at = find_id(now, id);
                if (at && cell != q(rule_in_short(*at))) set_note(m, id, cell.toStdString());
            } else {
                QString no;
                const auto v = cell.isEmpty() ? std::optional(0.0) : read_number(cell, Unit::none, &no);
                why = v ? set_factor(m, id, heads_[size_t(to - 2)], *v)
                        : "“" + cell.toStdString() + "”: " + no.toStdString();
            }
            why.empty() ? void(++done) : refused.append(QString("line %1: %2").arg(line + 1).arg(q(why)));
        }
    }
    if (done) desk_->document()->apply("Paste into the combinations", std::move(m));
    if (!refused.isEmpty())
        desk_->say(QString("%1 cells not taken. %2.").arg(refused.size()).arg(refused.mid(0, 3).join("; ")), true);
}

CombinationTable::CombinationTable(Desk* desk, QWidget* parent)
    : QTableView(parent), desk_(desk), rows_(new CombinationModel(desk, this)) {
    setObjectName("table-combinations");
    setModel(rows_);
    setItemDelegate(new RowDelegate(desk, rows_, this));
    setFrameShape(QFrame::NoFrame);
    setFont(look::font(look::Size::small));
    setEditTriggers(DoubleClicked | EditKeyPressed | AnyKeyPressed | SelectedClicked);
    setHorizontalScrollMode(ScrollPerPixel);
    setShowGrid(false);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setFont(look::font(look::Size::small));
    horizontalHeader()->setSectionsClickable(true);
    setCornerButtonEnabled(false);
    connect(horizontalHeader(), &QHeaderView::sectionClicked, this, [this](int c) {
        QHeaderView* h = horizontalHeader();
        const bool same = h->isSortIndicatorShown() && h->sortIndicatorSection() == c;
        const Qt::SortOrder order =
            same && h->sortIndicatorOrder() == Qt::DescendingOrder ? Qt::AscendingOrder : Qt::DescendingOrder;
        h->setSortIndicatorShown(true);
        h->setSortIndicator(c, order);
        rows_->sort(c, order);
        lay_out();
    });
    connect(rows_, &QAbstractItemModel::modelReset, this, [this] {
        lay_out();
        follow_choice();
    });
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& to) {
        const Combination* c = rows_->row(to.row());
        if (syncing_ || !c || !c->active || (c->id == desk_->combination_id && !desk_->envelope())) return;
        desk_->choose_combination(c->id);
    });
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::model | Desk::answers)) rows_->refresh();
        if (what & Desk::view) {
            if (rows_->row_of(desk_->combination_id) < 0) rows_->refresh();
            follow_choice();
            viewport()->update();
        }
    });
    lay_out();
    follow_choice();
}

void CombinationTable::lay_out() {
    clearSpans();
    for (int r = 0; r < rows_->rowCount(); ++r)
        if (rows_->head(r)) setSpan(r, 0, 1, rows_->columnCount());
    const QFontMetrics m(look::font(look::Size::small));
    int id_width = 60, rule_width = 110;
    for (int r = 0; r < rows_->rowCount(); ++r) {
        if (!rows_->row(r)) continue;
        id_width = std::max(id_width, m.horizontalAdvance(rows_->text_of(r, 0)) + 18);
        rule_width = std::max(rule_width, m.horizontalAdvance(rows_->text_of(r, 1)) + 14);
    }
    int used = 0;
    for (int c = 0; c < rows_->columnCount(); ++c) {
        if (c == 1) continue;
        const QString head = rows_->headerData(c, Qt::Horizontal, Qt::DisplayRole).toString();
        const int width = c == 0                      ? std::min(id_width, 150)
                          : rows_->result_at(c)       ? bar_width + number_width
                          : c >= 2 + rows_->n_cases() ? 74
                                                      : std::max(40, m.horizontalAdvance(head) + 16);
        setColumnWidth(c, width);
        used += width;
    }
    // What is left is for the words; many cases scroll.
    setColumnWidth(1, std::clamp(viewport()->width() - used, std::min(rule_width, 120), std::max(rule_width, 120)));
}

void CombinationTable::resizeEvent(QResizeEvent* e) {
    QTableView::resizeEvent(e);
    lay_out();
}

void CombinationTable::follow_choice() {
    if (state() == EditingState) return;
    syncing_ = true;
    const int r = rows_->row_of(desk_->combination_id);
    if (r >= 0 && currentIndex().row() != r) {
        const int column = std::max(0, currentIndex().column());
        setCurrentIndex(rows_->index(r, column));
    }
    syncing_ = false;
}

std::set<std::string> CombinationTable::selected() const {
    std::set<std::string> out;
    for (const QModelIndex& i : selectionModel()->selectedIndexes())
        if (const Combination* c = rows_->row(i.row())) out.insert(c->id);
    return out;
}

void CombinationTable::copy() const {
    std::map<int, std::map<int, QString>> cells;
    for (const QModelIndex& i : selectionModel()->selectedIndexes())
        if (rows_->row(i.row())) cells[i.row()][i.column()] = rows_->text_of(i.row(), i.column());
    QStringList lines;
    for (const auto& [row, texts] : cells) {
        QStringList line;
        for (const auto& [column, text] : texts) line << text;
        lines << line.join('\t');
    }
    if (!lines.isEmpty()) QApplication::clipboard()->setText(lines.join('\n') + '\n');
}

void CombinationTable::paste() {
    if (currentIndex().isValid())
        rows_->paste(QApplication::clipboard()->text(), currentIndex().row(), currentIndex().column());
}

void CombinationTable::copy_row() {
    Model m = desk_->now();
    const std::string id = add_combination(m, desk_->combination_id);
    desk_->document()->apply(QString("Add combination %1").arg(q(id)), std::move(m));
    desk_->choose_combination(id);
    setFocus();
}

void CombinationTable::delete_rows() {
    std::set<std::string> ids = selected();
    if (ids.empty()) ids.insert(desk_->combination_id);
    Model m = desk_->now();
    const Dropped d = drop_combinations(m, ids);
    if (d.gone + d.off == 0) return;
    desk_->document()->apply(d.gone ? QString("Delete %1 combination%2").arg(d.gone).arg(d.gone == 1 ? "" : "s")
                                    : QString("Switch off %1 combination%2").arg(d.off).arg(d.off == 1 ? "" : "s"),
                             std::move(m));
    if (d.off)
        desk_->say(QString("%1 by rule: switched off, since the rules would write %2 again.")
                       .arg(d.off == 1 ? "A row" : QString("%1 rows").arg(d.off), d.off == 1 ? "it" : "them"));
}

void CombinationTable::turn_rows() {
    const std::set<std::string> ids = selected();
    bool any_on = false;
    for (const Combination& c : desk_->combinations()) any_on |= c.active && ids.count(c.id);
    if (ids.empty()) return;
    Model m = desk_->now();
    set_active(m, ids, !any_on);
    desk_->document()->apply(QString(any_on ? "Switch off %1" : "Switch on %1")
                                 .arg(ids.size() == 1 ? q(*ids.begin()) : QString("%1 combinations").arg(ids.size())),
                             std::move(m));
}

void CombinationTable::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    if (e->matches(QKeySequence::Paste)) return paste();
    if (e->key() == Qt::Key_Space && state() != EditingState) return turn_rows();
    const bool erases = e->key() == Qt::Key_Delete || e->key() == Qt::Key_Backspace;
    if (erases && state() != EditingState) {
        const auto cells = selectionModel()->selectedIndexes();
        const bool factors = std::all_of(cells.begin(), cells.end(), [this](const QModelIndex& i) {
            return i.column() >= 2 && i.column() < 2 + rows_->n_cases();
        });
        if (!factors) return delete_rows();
        QString blank;
        if (cells.size() == 1) rows_->setData(cells.first(), blank, Qt::EditRole);
        return;
    }
    if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && state() != EditingState &&
        currentIndex().isValid()) {
        if (const auto group = rows_->head(currentIndex().row())) return rows_->turn(*group);
        return edit(currentIndex());
    }
    QTableView::keyPressEvent(e);
}

void CombinationTable::mousePressEvent(QMouseEvent* e) {
    if (const auto group = rows_->head(rowAt(int(e->position().y())))) return rows_->turn(*group);
    QTableView::mousePressEvent(e);
}

}  // namespace mossbed
