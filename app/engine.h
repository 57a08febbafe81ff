// Solves in the background: one worker thread, the newest job wins. Each job goes on from the last answer of its kind,
// so that an edit pays for what it touches (core/answer/stages.h). A full job that takes long first tells a quick look.
//
// A job is   waiting ──▶ running ──▶ ended (answered, refused or stopped)
//               └─ replaced by a newer one, or dropped by stop()
//
// Invariants: 1. at most one job waits; a newer one replaces it. 2. a running full job whose model is no longer wanted
// is asked to stop. 3. results come back on the thread that owns the engine, each with the revision that it answers.
// 4. busy() is true from submit() until the newest wanted job has ended there; `wanted_` is its serial, on the owner's
// thread alone, so that no thread's view of the queue decides it. 5. after stop() nothing is wanted, and what still
// runs until it asks for the stop ends unheard. 6. answers are taken apart on a thread of their own.
#pragma once
#include <QObject>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "app/dismantling.h"
#include "core/answer/solve.h"

namespace mossbed {

class Engine : public QObject {
    Q_OBJECT
  public:
    explicit Engine(QObject* parent = nullptr);
    ~Engine() override;

    void submit(Model model, long revision, bool coarse);
    void stop();  // what runs and what waits
    // Stops for good and waits for the worker; whether it ended by then. Nothing may be submitted afterwards.
    bool end_within(std::chrono::milliseconds patience);
    bool busy() const { return busy_; }

  Q_SIGNALS:
    void answered(std::shared_ptr<const mossbed::Answer> answer, long revision);
    void refused(std::vector<mossbed::Problem> problems, long revision);
    void progressed(double share, QString step);
    void busy_changed(bool busy);

  private:
    struct Job {
        Model model;
        long revision = 0, serial = 0;
        bool coarse = false;
    };
    void work();
    void run(const Job& job);
    void look(const Job& job, const Progress& progress);
    void answer_whole(const Job& job, const Progress& progress);
    void tell(const Job& job, std::function<void()> what, bool is_last = true);  // on the owner's thread
    void set_busy(bool b);

    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<Job> waiting_;
    std::atomic<bool> stop_{false};  // the running job
    bool running_ = false, running_coarse_ = false, quit_ = false;
    bool ended_ = false;  // the worker

    long serial_ = 0, wanted_ = 0, unheard_ = 0;  // of the owner's thread; jobs up to `unheard_` were stopped
    bool busy_ = false;                           // as last told; likewise
    Dismantling old_answers_;
    std::shared_ptr<const Answer> last_full_, last_coarse_;  // of the worker
    bool full_is_shown_ = false;                             // likewise: what was told last
    std::thread worker_;
};

}  // namespace mossbed
