#include "app/engine.h"

#include "core/validate/validate.h"

namespace mossbed {

// Layered ground costs more by the patch.
double coarse_size(const Model& m) {
    const double cells = m.ground.model == GroundModel::coupled ? 250 : 500;
    return std::max(m.mesh_size, std::sqrt(std::max(net_area(m), 0.01) / cells));
}

Engine::Engine(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const Answer>>();
    qRegisterMetaType<std::vector<Problem>>();
    worker_ = std::thread([this] { work(); });
}

Engine::~Engine() {
    end_within(std::chrono::milliseconds(0));
    worker_.join();
}

bool Engine::end_within(std::chrono::milliseconds patience) {
    std::unique_lock lock(mutex_);
    quit_ = true;
    stop_ = true;
    waiting_.reset();
    wake_.notify_all();
    return wake_.wait_for(lock, patience, [this] { return ended_; });
}

void Engine::submit(Model model, long revision, bool coarse) {
    wanted_ = ++serial_;
    {
        std::lock_guard lock(mutex_);
        waiting_ = Job{std::move(model), revision, wanted_, coarse};
        // A coarse frame that runs is nearly done and is shown: the hand sees steady motion. A full run gives way.
        if (running_ && !running_coarse_) stop_ = true;
    }
    set_busy(true);
    wake_.notify_all();
}

void Engine::stop() {
    {
        std::lock_guard lock(mutex_);
        waiting_.reset();
        stop_ = true;
    }
    wanted_ = 0, unheard_ = serial_;
    set_busy(false);
}

void Engine::set_busy(bool b) {
    if (busy_ == b) return;
    busy_ = b;
    Q_EMIT busy_changed(b);
}

void Engine::work() {
    for (;;) {
        Job job;
        {
            std::unique_lock lock(mutex_);
            running_ = false;
            wake_.wait(lock, [this] { return quit_ || waiting_; });
            if (quit_) {
                ended_ = true;
                wake_.notify_all();
                return;
            }
            job = std::move(*waiting_);
            waiting_.reset();
            running_ = true;
            running_coarse_ = job.coarse;
            stop_ = false;
        }
        run(job);
    }
}

void Engine::end(const Job& job, std::function<void()> tell) {
    QMetaObject::invokeMethod(
        this,
        [this, serial = job.serial, tell = std::move(tell)] {
            if (serial <= unheard_) return;
            tell();
            if (serial == wanted_) set_busy(false);
        },
        Qt::QueuedConnection);
}

void Engine::run(const Job& job) {
    SolveOptions options;
    options.checks = !job.coarse;
    Progress progress;
    progress.stop = &stop_;
    if (!job.coarse)
        progress.tell = [&](double share, const char* step) {
            QMetaObject::invokeMethod(
                this,
                [this, share, s = QString::fromUtf8(step), serial = job.serial] {
                    if (serial > unheard_) Q_EMIT progressed(share, s);
                },
                Qt::QueuedConnection);
        };
    auto refuse = [&](std::vector<Problem> problems) {
        end(job, [this, problems = std::move(problems), r = job.revision] { Q_EMIT refused(problems, r); });
    };
    std::shared_ptr<const Answer>& last = job.coarse ? last_coarse_ : last_full_;
    const Answer* before = last ? last.get() : last_full_.get();
    try {
        if (auto problems = problems_of(job.model); has_errors(problems)) return refuse(std::move(problems));
        if (job.coarse) options.mesh_size = coarse_size(job.model);
        const auto answer = old_answers_.watch_over(solve(job.model, options, before, progress));
        last = answer;
        end(job, [this, answer, r = job.revision] { Q_EMIT answered(answer, r); });
    } catch (const Stopped&) {
        end(job, [] {});
    } catch (const Trouble& t) {
        refuse({t.problem});
    } catch (const std::exception& e) {
        refuse({{std::string("the solution ended unexpectedly: ") + e.what(),
                 "the model",
                 "save it and undo the last edit",
                 Severity::error,
                 {}}});
    }
}

}  // namespace mossbed
