// The Working: how a number of the Ledger came about, line by line with numbers and clause, what was put in, a sketch
// of where, and what it comes to. Lies over the plan; copied as a table, printed as a sheet; Esc closes.
#pragma once
#include <QCheckBox>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/desk.h"

class QPrinter;

namespace mossbed {

class SketchView : public QWidget {
    Q_OBJECT
  public:
    explicit SketchView(QWidget* parent) : QWidget(parent) { setObjectName("working-sketch"); }
    void show_row(const Row* row, const std::shared_ptr<const Answer>& answer);
    QImage picture(const QSize& size) const;
    bool is_empty() const;

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    std::optional<Row> row_;
    std::shared_ptr<const Answer> answer_;
};

class WorkingView : public QFrame {
    Q_OBJECT
  public:
    explicit WorkingView(Desk* desk, QWidget* parent);
    void show_row(const std::string& key);
    void copy();  // as a table, for a spreadsheet or a document
    void print_on(QPrinter* printer);
    QString sheet() const;  // as it is printed, HTML

  Q_SIGNALS:
    void lead_wanted(std::string path);

  protected:
    void resizeEvent(QResizeEvent* e) override;
    void showEvent(QShowEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;

  private:
    void fill();
    void print();
    const Row* row() const;
    Desk* desk_;
    std::string key_;
    std::optional<UnitSystem> units_;  // of the model shown last
    QLabel *title_, *note_, *conclusion_;
    QCheckBox* us_units_;
    QPushButton* lead_;
    SketchView* sketch_;
    QTableWidget* lines_;
};

}  // namespace mossbed
