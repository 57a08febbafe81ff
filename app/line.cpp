#include "app/line.h"

#include <QKeyEvent>

namespace mossbed {

void Line::show_text(const QString& text) {
    const bool typing = hasFocus() && is_pending();
    shown_ = text;
    if (typing || this->text() == text) return;
    setText(text);
    if (hasFocus()) selectAll();
}

void Line::give_up() {
    setText(shown_);
    if (hasFocus()) selectAll();
}

bool Line::event(QEvent* e) {
    if (e->type() == QEvent::ShortcutOverride) {
        auto* k = static_cast<QKeyEvent*>(e);
        const bool redo =
            k->matches(QKeySequence::Redo) || (k->key() == Qt::Key_Y && k->modifiers() == Qt::ControlModifier);
        if (redo || k->matches(QKeySequence::Undo)) {  // the model's, not the line's
            e->ignore();
            return true;
        }
    }
    return QLineEdit::event(e);
}

void Line::focusInEvent(QFocusEvent* e) {
    QLineEdit::focusInEvent(e);
    if (e->reason() == Qt::PopupFocusReason || e->reason() == Qt::ActiveWindowFocusReason) return;
    entered_by_click_ = e->reason() == Qt::MouseFocusReason;
    selectAll();
}

void Line::mouseReleaseEvent(QMouseEvent* e) {
    QLineEdit::mouseReleaseEvent(e);
    if (entered_by_click_ && !hasSelectedText()) selectAll();
    entered_by_click_ = false;
}

void Line::mouseDoubleClickEvent(QMouseEvent*) { selectAll(); }

QWidget* CellDelegate::createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex& i) const {
    auto* line = new Line(parent);
    line->setFrame(false);
    line->setProperty("cell", true);
    line->setAlignment(Qt::Alignment(i.data(Qt::TextAlignmentRole).toInt()));
    line->on_take = [this, line](bool) {
        auto* me = const_cast<CellDelegate*>(this);
        Q_EMIT me->commitData(line);  // a refusal is said by who keeps the table, which then shows what stands
        Q_EMIT me->closeEditor(line);
        return QString();
    };
    return line;
}

void CellDelegate::setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& i) const {
    if (static_cast<Line*>(editor)->is_pending()) QStyledItemDelegate::setModelData(editor, model, i);
}

void CellDelegate::setEditorData(QWidget* editor, const QModelIndex& i) const {
    auto* line = static_cast<Line*>(editor);
    line->show_text(i.data(Qt::EditRole).toString());
}

}  // namespace mossbed
