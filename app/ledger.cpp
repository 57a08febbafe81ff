#include "app/ledger.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <map>

#include "words/terms.h"

namespace mossbed {
namespace {

constexpr int row_height = 34, left_margin = 18;

// How a row falls into its box.
struct Places {
    QRectF fold, title, subtitle, link, bar, number, word;
    double one = 0;  // where use is 1.0; beyond it a bar runs on, hatched
};

bool has_bar(const Row& r) { return r.status != Status::not_checked && r.status != Status::no_limit; }

Places places_of(const Row& r, const LedgerModel::Entry& e, const QRect& box, const QFontMetrics& small) {
    Places p;
    const double right = box.right() - 10, number_width = 42, left = box.left() + left_margin + (e.is_inside ? 10 : 0);
    const double bar_width = std::clamp(box.width() * 0.235, 60.0, 110.0);
    p.fold = QRectF(box.left(), box.top(), left_margin, row_height);
    p.bar = QRectF(right - number_width - bar_width, box.top() + 12, bar_width, 9);
    p.number = QRectF(right - number_width, box.top(), number_width, row_height);
    const double word_width = has_bar(r) ? number_width + bar_width + 4 : 76;
    p.word = QRectF(right - word_width, box.top() + 2, word_width, 16);
    p.title = QRectF(left, box.top() + 2, right - word_width - left - 6, 16);
    const QString link = Ledger::link_of(r);
    const double link_width = link.isEmpty() ? 0 : small.horizontalAdvance(link) + 6;
    p.link = QRectF(right - link_width, box.top() + 17, link_width, 15);
    // Without a bar the reason has its place.
    p.subtitle = QRectF(left, box.top() + 17, (has_bar(r) ? p.title.width() : right - left) - link_width, 15);
    p.one = p.bar.left() + 0.8 * p.bar.width();
    return p;
}

class RowPainter : public QStyledItemDelegate {
  public:
    RowPainter(Desk* desk, Ledger* list) : QStyledItemDelegate(list), desk_(desk), list_(list) {}

    // The row in hand says all of its reason.
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& i) const override {
        const auto* entries = static_cast<const LedgerModel*>(i.model());
        const Row* r = entries->row(i);
        if (!r || i != list_->currentIndex()) return {100, row_height};
        const QFontMetrics small(look::font(look::Size::small));
        const Places p = places_of(*r, *entries->entry(i), QRect(0, 0, list_->viewport()->width(), row_height), small);
        const QString text = LedgerModel::subtitle(desk_, *r);
        const int h = small.boundingRect(QRect(0, 0, int(p.subtitle.width()), 4000), Qt::TextWordWrap, text).height();
        return {100, std::max(row_height, row_height - 14 + h + 2)};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& i) const override {
        const auto* entries = static_cast<const LedgerModel*>(i.model());
        const Row* r = entries->row(i);
        if (!r) return;
        const LedgerModel::Entry& e = *entries->entry(i);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        if (o.state & QStyle::State_Selected) p->fillRect(o.rect, look::moss_wash);
        if (desk_->is_old() || desk_->is_behind(*r)) p->setOpacity(0.45);  // of an older model
        const Places at = places_of(*r, e, o.rect, QFontMetrics(look::font(look::Size::small)));
        if (e.others > 0) draw_fold(*p, at, e);
        write(*p, at, *r, e, i == list_->currentIndex(), o.rect);
        draw_use(*p, at, *r);
        p->restore();
    }

  private:
    static void draw_fold(QPainter& p, const Places& at, const LedgerModel::Entry& e) {
        const QPointF c(at.fold.left() + 9, at.fold.top() + 11);
        p.setPen(Qt::NoPen);
        p.setBrush(look::faint);
        if (e.is_open)
            p.drawPolygon(QPolygonF{c + QPointF(-4, -2.5), c + QPointF(4, -2.5), c + QPointF(0, 3.5)});
        else
            p.drawPolygon(QPolygonF{c + QPointF(-2.5, -4), c + QPointF(3.5, 0), c + QPointF(-2.5, 4)});
    }
    void write(QPainter& p, const Places& at, const Row& r, const LedgerModel::Entry& e, bool whole,
               const QRect& box) const {
        const bool over = r.status == Status::over, open = r.status == Status::not_checked;
        p.setFont(look::font(look::Size::normal));
        p.setPen(over ? look::rust : look::ink);
        QString more;
        if (e.others > 0 && !e.is_open)
            more = QString("  + %1 more").arg(e.others) + (e.over ? QString(", %1 over").arg(e.over) : QString());
        const double room = at.title.width() - QFontMetricsF(look::font(look::Size::small)).horizontalAdvance(more);
        const QString title =
            p.fontMetrics().elidedText(QString::fromStdString(r.title), Qt::ElideRight, int(std::max(40.0, room)));
        p.drawText(at.title, Qt::AlignLeft | Qt::AlignVCenter, title);
        const double used = p.fontMetrics().horizontalAdvance(title);
        p.setFont(look::font(look::Size::small));
        p.setPen(e.over ? look::rust : look::faint);
        p.drawText(at.title.adjusted(used, 0, 40, 0), Qt::AlignLeft | Qt::AlignVCenter, more);
        p.setPen(look::faint);
        const QString text = LedgerModel::subtitle(desk_, r);
        if (whole)
            p.drawText(QRectF(at.subtitle.left(), at.subtitle.top(), at.subtitle.width(), box.height() - 18),
                       Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, text);
        else
            p.drawText(at.subtitle, Qt::AlignLeft | Qt::AlignVCenter,
                       p.fontMetrics().elidedText(text, Qt::ElideRight, int(at.subtitle.width())));
        if (const QString link = Ledger::link_of(r); !link.isEmpty()) {
            p.setPen(look::moss);
            p.drawText(at.link, Qt::AlignRight | Qt::AlignVCenter, link);
        }
        if (has_bar(r)) return;
        p.setFont(look::font(look::Size::small, open));
        p.setPen(open ? look::rust : look::faint);
        p.drawText(at.word, Qt::AlignRight | Qt::AlignVCenter, QString::fromUtf8(name_of(r.status)));
    }
    static void draw_use(QPainter& p, const Places& at, const Row& r) {
        if (!has_bar(r)) return;
        const bool over = r.status == Status::over;
        p.fillRect(at.bar, look::pale);
        if (r.utilisation) {
            const double w = std::min(at.bar.width(), 0.8 * at.bar.width() * *r.utilisation);
            const QRectF filled(at.bar.left(), at.bar.top(), w, at.bar.height());
            // chosen to fit: nothing nearly fails
            p.fillRect(filled, r.chosen ? look::moss : look::colour_of_use(*r.utilisation, over));
            if (over) {
                p.setClipRect(filled);
                p.setPen(QPen(look::panel, 1.4));
                for (int k = 0; 6 * k < w + 10; ++k) {
                    const double x = filled.left() - 10 + 6 * k;
                    p.drawLine(QPointF(x, filled.bottom()), QPointF(x + 9, filled.top()));
                }
                p.setClipping(false);
            }
        }
        p.setPen(QPen(look::ink, 1.6));
        p.drawLine(QPointF(at.one, at.bar.top() - 3), QPointF(at.one, at.bar.bottom() + 3));
        p.setFont(look::font(look::Size::normal, true));
        p.setPen(over ? look::rust : look::ink);
        p.drawText(at.number, Qt::AlignRight | Qt::AlignVCenter,
                   r.utilisation ? LedgerModel::use_in_words(*r.utilisation) : "over");
    }

    Desk* desk_;
    Ledger* list_;
};

}  // namespace

LedgerModel::LedgerModel(Desk* desk, QObject* parent) : QAbstractListModel(parent), desk_(desk) { renew(); }

int LedgerModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(entries_.size()); }

const LedgerModel::Entry* LedgerModel::entry(const QModelIndex& i) const {
    return i.isValid() && i.row() < int(entries_.size()) ? &entries_[size_t(i.row())] : nullptr;
}

const Row* LedgerModel::row(const QModelIndex& i) const {
    const Entry* e = entry(i);
    return e && e->row < int(desk_->rows().size()) ? &desk_->rows()[size_t(e->row)] : nullptr;
}

int LedgerModel::index_of(const std::string& key) const {
    for (size_t k = 0; k < entries_.size(); ++k)
        if (desk_->rows()[size_t(entries_[k].row)].key() == key) return int(k);
    return -1;
}

namespace {
// Of the model's own strips each that is wide says so: one line for all of them.
constexpr const char* of_wide_strips = "model strip width";
}  // namespace

// What was not checked does not hide behind what was, nor the other way round.
std::string LedgerModel::group_of(const Row& r) {
    if (r.id == "bending" || r.id == "minimum-steel")  // by face too: their items end in it
        return r.id + (r.item.size() > 3 && r.item.ends_with("top") ? " top" : "") +
               (r.status == Status::not_checked ? "?" : "");
    if (r.id == "model" && r.item.starts_with("strip ") && r.item.ends_with(" width")) return of_wide_strips;
    if (r.item.empty() || r.id == "model") return r.key();
    return r.id + (r.status == Status::not_checked ? "?" : "");
}

bool LedgerModel::is_wanted(const Row& r) const {
    if (moved_) {
        const auto before = desk_->use_before(r);
        if (!before || !r.utilisation || std::abs(*before - *r.utilisation) <= 0.005) return false;
    }
    if (words_.isEmpty()) return true;
    const QString text =
        QString::fromStdString(r.title + " " + r.combination + " " + name_of(r.status) + " ") + subtitle(desk_, r);
    for (const QString& word : words_.split(' ', Qt::SkipEmptyParts))
        if (!text.contains(word, Qt::CaseInsensitive)) return false;
    return true;
}

void LedgerModel::renew() {
    beginResetModel();
    entries_.clear();
    const auto& rows = desk_->rows();
    std::map<std::string, std::vector<int>> groups;
    std::vector<std::string> order;
    for (int k = 0; k < int(rows.size()); ++k) {
        if (is_filtered()) {
            if (is_wanted(rows[size_t(k)])) entries_.push_back({.row = k});
            continue;
        }
        const std::string g = group_of(rows[size_t(k)]);
        if (groups[g].empty()) order.push_back(g);
        groups[g].push_back(k);
    }
    for (const std::string& g : order) {
        const std::vector<int>& all = groups[g];
        const auto said = open_.find(g);
        const int others = int(all.size()) - 1;
        const bool open =
            others > 0 && (said != open_.end() ? said->second : int(all.size()) <= few && g != of_wide_strips);
        int over = 0;
        for (size_t k = 1; k < all.size(); ++k) over += rows[size_t(all[k])].status == Status::over;
        entries_.push_back({.row = all[0], .others = others, .over = over, .is_open = open});
        if (open)
            for (size_t k = 1; k < all.size(); ++k) entries_.push_back({.row = all[k], .is_inside = true});
    }
    endResetModel();
}

void LedgerModel::search(const QString& text) {
    words_ = text.trimmed();
    renew();
}
void LedgerModel::only_moved(bool on) {
    moved_ = on;
    renew();
}
void LedgerModel::fold(const QModelIndex& i) {
    const Entry* e = entry(i);
    if (!e || e->others == 0) return;
    open_[group_of(*row(i))] = !e->is_open;
    renew();
}
void LedgerModel::unfold_to(const std::string& key) {
    if (is_filtered()) search(""), only_moved(false);
    for (const Row& r : desk_->rows())
        if (r.key() == key && index_of(key) < 0) open_[group_of(r)] = true;
    renew();
}

QString LedgerModel::subtitle(const Desk* desk, const Row& r) {
    if (r.status == Status::not_checked || r.no_equilibrium || (r.status == Status::over && !r.utilisation))
        return QString::fromStdString(r.note);
    QStringList parts;
    if (!r.combination.empty()) parts << QString::fromStdString(r.combination);
    const QString unit = QString::fromUtf8(name_of(r.unit));
    if (r.chosen) parts << "chosen";
    if (r.status == Status::no_limit && r.value) parts << look::with_unit(*r.value, unit);
    if (r.value && r.limit) parts << look::on_screen(amounts_of(r));
    const auto before = desk->use_before(r);
    if (before && r.utilisation && std::abs(*before - *r.utilisation) > 0.005)
        parts << look::number(*before, 2) + "→" + look::number(*r.utilisation, 2);
    return parts.join(" · ");
}

QString LedgerModel::use_in_words(double use) {
    if (use > 99) return "> 99";
    return look::number(use, use > 0.995 && use < 1.005 && use != 1 ? 3 : 2);  // near the limit two digits tell nothing
}

QVariant LedgerModel::data(const QModelIndex& i, int role) const {
    const Row* r = row(i);
    if (!r) return {};
    if (role == Qt::DisplayRole)
        return QString::fromStdString(r->title) + " " +
               (r->utilisation ? look::number(*r->utilisation, 2) : QString::fromUtf8(name_of(r->status))) + " " +
               subtitle(desk_, *r);
    if (role == Qt::ToolTipRole) return QString::fromStdString(r->note.empty() ? r->clause : r->note);
    return {};
}

Ledger::Ledger(Desk* desk, QWidget* parent) : QListView(parent), desk_(desk), rows_(new LedgerModel(desk, this)) {
    setObjectName("ledger");
    setModel(rows_);
    setItemDelegate(new RowPainter(desk, this));
    setFrameShape(QFrame::NoFrame);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::state) viewport()->update();
        if (!(what & Desk::answers)) return;
        const int scroll = verticalScrollBar()->value();
        rows_->renew();  // the row in hand stays in hand wherever it moved
        const int at = current_key_.empty() ? -1 : rows_->index_of(current_key_);
        const std::string keep = current_key_;
        if (at >= 0) setCurrentIndex(rows_->index(at));
        current_key_ = keep;
        verticalScrollBar()->setValue(scroll);
        viewport()->update();
    });
    connect(this, &QListView::doubleClicked, this, [this] { open_working(); });
}

QString Ledger::link_of(const Row& r) {
    if (r.leads_to.empty()) return {};
    if (r.leads_to == "loads/water") return "put it in ›";
    return r.status == Status::no_limit ? "set it ›" : "go there ›";
}

void Ledger::open_working() {
    if (const Row* r = rows_->row(currentIndex())) Q_EMIT working_wanted(r->key());
}

void Ledger::show_row(const std::string& key) {
    rows_->unfold_to(key);
    const int at = rows_->index_of(key);
    if (at < 0) return;
    current_key_ = key;
    setCurrentIndex(rows_->index(at));
    scrollTo(rows_->index(at));
}

void Ledger::mousePressEvent(QMouseEvent* e) {
    const QModelIndex i = indexAt(e->pos());
    const Row* r = rows_->row(i);
    if (!r) return QListView::mousePressEvent(e);
    const Places at = places_of(*r, *rows_->entry(i), visualRect(i), QFontMetrics(look::font(look::Size::small)));
    if (at.fold.contains(e->position()) && rows_->entry(i)->others > 0) {
        const int scroll = verticalScrollBar()->value();
        rows_->fold(i);
        verticalScrollBar()->setValue(scroll);
        return;
    }
    if (at.link.contains(e->position())) return Q_EMIT lead_wanted(r->leads_to);
    const Row row = *r;  // flying there may renew the list
    QListView::mousePressEvent(e);
    current_key_ = row.key();
    desk_->fly_to(row);
}

void Ledger::currentChanged(const QModelIndex& now, const QModelIndex& before) {
    QListView::currentChanged(now, before);
    scheduleDelayedItemsLayout();  // the one in hand is taller
}

void Ledger::resizeEvent(QResizeEvent* e) {
    QListView::resizeEvent(e);
    scheduleDelayedItemsLayout();
}

QString Ledger::summary() const {
    if (!desk_->problems().empty()) return "cannot solve · rows are of before";
    if (desk_->answer() && !desk_->in_step()) return desk_->held ? "held · faded rows are of before" : "catching up …";
    int over = 0, open = 0, all = 0;
    for (const Row& r : desk_->rows()) over += r.status == Status::over, open += r.status == Status::not_checked, ++all;
    if (all == 0) return "";
    QStringList s;
    if (over) s << QString("%1 over").arg(over);
    if (open) s << QString("%1 not checked").arg(open);
    return s.isEmpty() ? QString("all %1 pass").arg(all) : s.join(" · ");
}

void Ledger::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return open_working();
    const LedgerModel::Entry* entry = rows_->entry(currentIndex());
    if (entry && entry->others > 0 &&
        ((e->key() == Qt::Key_Left && entry->is_open) || (e->key() == Qt::Key_Right && !entry->is_open))) {
        const int at = currentIndex().row();
        rows_->fold(currentIndex());
        return setCurrentIndex(rows_->index(at));
    }
    QListView::keyPressEvent(e);
    if (e->key() == Qt::Key_Up || e->key() == Qt::Key_Down)
        if (const Row* r = rows_->row(currentIndex())) {
            const Row row = *r;
            current_key_ = row.key();
            desk_->fly_to(row);
        }
}

}  // namespace mossbed
