// A line to type into, the same in fields and in cells: all is selected when it is entered, by key or by click; what is
// typed is never torn away; undo belongs to the model. What has been typed and not taken is pending: whoever is about
// to do something else settles it first.
#pragma once
#include <QLineEdit>
#include <QStyledItemDelegate>
#include <functional>

namespace mossbed {

class Line : public QLineEdit {
    Q_OBJECT
  public:
    explicit Line(QWidget* parent = nullptr) : QLineEdit(parent) {}
    void show_text(const QString& text);  // what stands; kept from the screen while something else is being typed
    const QString& shown() const { return shown_; }
    bool is_pending() const { return text() != shown_; }
    void give_up();  // back to what stands
    // Takes what is pending; what it says when it cannot, with the text left to be mended.
    QString settle() { return is_pending() && on_take ? on_take(false) : QString(); }
    // The same on going elsewhere: what cannot be taken is given up.
    QString leave() { return is_pending() && on_take ? on_take(true) : QString(); }
    std::function<QString(bool leaving)> on_take;

  protected:
    bool event(QEvent* e) override;
    void focusInEvent(QFocusEvent* e) override;
    void mouseReleaseEvent(QMouseEvent* e) override;
    void mouseDoubleClickEvent(QMouseEvent* e) override;

  private:
    QString shown_;
    bool entered_by_click_ = false;
};

// Cells of any table are edited in such a line.
class CellDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& o, const QModelIndex& i) const override;
    void setEditorData(QWidget* editor, const QModelIndex& i) const override;
    // Nothing typed is nothing set: a number keeps the digits that are not shown.
    void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& i) const override;
};

}  // namespace mossbed
