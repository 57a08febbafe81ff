// A message laid over an edge of what it belongs to: it comes and goes without moving anything.
#pragma once
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>
#include <functional>

namespace mossbed {

class MessageStrip : public QFrame {
    Q_OBJECT
  public:
    // Along the foot or the head of an area of `host`.
    MessageStrip(QWidget* host, Qt::Edge edge, const QString& name, std::function<QRect()> area);
    void say(const QString& sentence, bool bad);  // what is not bad goes by itself after a while
    QLabel* text() { return text_; }
    QHBoxLayout* row() { return row_; }

  protected:
    bool eventFilter(QObject* of, QEvent* e) override;
    void showEvent(QShowEvent* e) override;

  private:
    void place();
    QWidget* host_;
    Qt::Edge edge_;
    std::function<QRect()> area_;
    QHBoxLayout* row_;
    QLabel* text_;
    QTimer gone_;
};

}  // namespace mossbed
