// Work beside the Engine, one at a time, whose text is wanted only while nothing newer was asked for. A run that is
// given up is told to stop and left to end by itself: the window never waits for it, but for the end of the program.
#pragma once
#include <QObject>
#include <atomic>
#include <chrono>
#include <functional>
#include <list>
#include <thread>

#include "core/base/progress.h"

namespace mossbed {

class SideRun : public QObject {
    Q_OBJECT
  public:
    explicit SideRun(QObject* parent = nullptr) : QObject(parent) {}
    ~SideRun() override;

    using Work = std::function<QString(const Progress&)>;
    using Done = std::function<void(QString)>;
    // `done` comes on the owner's thread, unless the run was given up by then. Faults of the work come as its text.
    void start(Work work, Done done);
    void give_up();
    // Tells all runs to stop and waits for them; whether they ended by then. Nothing may be started afterwards.
    bool end_within(std::chrono::milliseconds patience);
    bool busy() const { return current_ != 0; }

  private:
    struct Run {
        long serial = 0;
        std::atomic<bool> stop{false}, ended{false};
        std::thread thread;
    };
    void ended(long serial, const QString& text, const Done& done);
    std::list<std::unique_ptr<Run>> runs_;  // the current one and those given up that have not ended yet
    long serial_ = 0, current_ = 0;         // 0: none
};

}  // namespace mossbed
