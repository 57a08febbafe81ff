#include "app/ledger.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>

namespace mossbed {
namespace {

constexpr int row_height = 34;

class RowPainter : public QStyledItemDelegate {
  public:
    RowPainter(Desk* desk, QObject* parent) : QStyledItemDelegate(parent), desk_(desk) {}
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {100, row_height}; }
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& i) const override {
        const Row* r = static_cast<const LedgerModel*>(i.model())->row(i);
        if (!r) return;
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRect box = o.rect;
        if (o.state & QStyle::State_Selected) p->fillRect(box, look::moss_wash);
        const bool over = r->status == Status::over, open = r->status == Status::not_checked,
                   unlimited = r->status == Status::no_limit;
        const double right = box.right() - 10, number_width = 42,
                     bar_width = std::clamp(box.width() * 0.235, 60.0, 110.0);
        const QRectF bar(right - number_width - bar_width, box.center().y() - 5, bar_width, 9);
        if (!desk_->problems().empty() || desk_->is_behind(*r)) p->setOpacity(0.45);  // of an older model
        p->setFont(look::font(look::Size::normal));
        p->setPen(over ? look::rust : look::ink);
        // Without a bar the reason has its place; the word at the right stands beside the title only.
        const double word_width = open || unlimited ? 76 : number_width + bar_width + 4;
        const double title_width = right - word_width - box.left() - 18,
                     text_width = open ? right - box.left() - 12 : title_width;
        p->drawText(QRectF(box.left() + 12, box.top() + 2, title_width, 16), Qt::AlignLeft | Qt::AlignVCenter,
                    p->fontMetrics().elidedText(QString::fromStdString(r->title), Qt::ElideRight, int(title_width)));
        p->setFont(look::font(look::Size::small));
        p->setPen(look::faint);
        p->drawText(QRectF(box.left() + 12, box.top() + 17, text_width, 14), Qt::AlignLeft | Qt::AlignVCenter,
                    p->fontMetrics().elidedText(LedgerModel::subtitle(desk_, *r), Qt::ElideRight, int(text_width)));
        const double one = bar.left() + 0.8 * bar.width();  // where use is 1.0; beyond it a bar runs on, hatched
        if (!open && !unlimited) p->fillRect(bar, look::pale);
        if (r->utilisation && !open) {
            const double use = *r->utilisation, w = std::min(bar.width(), 0.8 * bar.width() * use);
            QColor c = r->chosen ? look::moss : look::colour_of_use(use, over);  // chosen to fit: nothing nearly fails
            p->fillRect(QRectF(bar.left(), bar.top(), w, bar.height()), c);
            if (over) {
                p->setClipRect(QRectF(bar.left(), bar.top(), w, bar.height()));
                p->setPen(QPen(look::panel, 1.4));
                for (int k = 0; 6 * k < w + 10; ++k) {
                    const double x = bar.left() - 10 + 6 * k;
                    p->drawLine(QPointF(x, bar.bottom()), QPointF(x + 9, bar.top()));
                }
                p->setClipping(false);
            }
        }
        p->setPen(QPen(look::ink, 1.6));
        if (!open && !unlimited) p->drawLine(QPointF(one, bar.top() - 3), QPointF(one, bar.bottom() + 3));
        p->setFont(look::font(look::Size::normal, true));
        p->setPen(over || open ? look::rust : unlimited ? look::faint : look::ink);
        const QRectF number(right - number_width, box.top(), number_width, box.height());
        if (open || unlimited) {
            p->setFont(look::font(look::Size::small, open));
            p->drawText(QRectF(right - word_width, box.top() + 2, word_width, open ? 16 : box.height() - 4),
                        Qt::AlignRight | Qt::AlignVCenter, QString::fromUtf8(name_of(r->status)));
        } else {
            p->drawText(number, Qt::AlignRight | Qt::AlignVCenter,
                        r->utilisation ? LedgerModel::use_in_words(*r->utilisation) : "over");
        }
        p->restore();
    }

  private:
    Desk* desk_;
};

}  // namespace

LedgerModel::LedgerModel(Desk* desk, QObject* parent) : QAbstractListModel(parent), desk_(desk) {}

int LedgerModel::rowCount(const QModelIndex&) const { return int(desk_->rows().size()); }

const Row* LedgerModel::row(const QModelIndex& i) const {
    return i.isValid() && i.row() < int(desk_->rows().size()) ? &desk_->rows()[size_t(i.row())] : nullptr;
}

QString LedgerModel::subtitle(const Desk* desk, const Row& r) {
    if (r.status == Status::not_checked || (r.status == Status::over && !r.utilisation))
        return QString::fromStdString(r.note);
    QStringList parts;
    if (!r.combination.empty()) parts << QString::fromStdString(r.combination);
    const QString unit = QString::fromUtf8(name_of(r.unit));
    if (r.chosen) parts << "chosen";
    if (r.status == Status::no_limit && r.value) parts << look::with_unit(*r.value, unit);
    if (r.value && r.limit) parts << look::quantity(*r.value, unit) + "/" + look::with_unit(*r.limit, unit);
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
        const std::string keep = current_key_;
        Q_EMIT rows_->layoutChanged();
        setCurrentIndex({});
        for (int i = 0; i < rows_->rowCount(); ++i)  // the row in hand stays in hand wherever it moved
            if (desk_->rows()[size_t(i)].key() == keep) setCurrentIndex(rows_->index(i));
        current_key_ = keep;
        viewport()->update();
    });
    connect(this, &QListView::clicked, this, [this](const QModelIndex& i) {
        if (const Row* r = rows_->row(i)) current_key_ = r->key(), desk_->fly_to(*r);
    });
    connect(this, &QListView::doubleClicked, this, [this](const QModelIndex& i) { Q_EMIT working_wanted(i.row()); });
}

QString Ledger::summary() const {
    if (!desk_->problems().empty()) return "cannot solve · rows are of before";
    if (desk_->answer() && !desk_->in_step()) return "catching up …";
    int over = 0, open = 0, all = 0;
    for (const Row& r : desk_->rows()) over += r.status == Status::over, open += r.status == Status::not_checked, ++all;
    if (all == 0) return "";
    QStringList s;
    if (over) s << QString("%1 over").arg(over);
    if (open) s << QString("%1 not checked").arg(open);
    return s.isEmpty() ? QString("all %1 pass").arg(all) : s.join(" · ");
}

void Ledger::keyPressEvent(QKeyEvent* e) {
    if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && currentIndex().isValid()) {
        Q_EMIT working_wanted(currentIndex().row());
        return;
    }
    QListView::keyPressEvent(e);
    if (e->key() == Qt::Key_Up || e->key() == Qt::Key_Down)
        if (const Row* r = rows_->row(currentIndex())) current_key_ = r->key(), desk_->fly_to(*r);
}

}  // namespace mossbed
