using System.Diagnostics;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>A state of a played run that can be gone back to.</summary>
public sealed record SavedState(string Id, string Name, double Time);

/// <summary>
/// Plays a run: lets it go on at a pace, pauses it, takes single steps, gives it other values. One thread of its own does everything with
/// the session; what is asked of it waits in a queue and is done between two steps.
/// </summary>
public sealed class RunPlayer : IDisposable
{
    /// <summary>Real time between two stops of a paced run, between two frames for the windows, and how long somebody waits for the
    /// next stop.</summary>
    static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(15),
        FrameTime = TimeSpan.FromMilliseconds(60),
        StopTime = TimeSpan.FromMilliseconds(250);

    /// <summary>How long a paused run waits for somebody before it is given up.</summary>
    static readonly TimeSpan Idle = TimeSpan.FromMinutes(30);

    const int MostSaved = 50;

    readonly RunJob job;
    readonly ComputeGate gate;
    readonly INotifications notifications;
    readonly Action<Exception> unforeseen;
    readonly RunSession session;
    readonly Lock own = new();
    readonly Queue<(Action Do, Action Refuse)> asked = [];
    readonly AutoResetEvent wake = new(false);
    readonly List<(SavedState View, SavedRun State)> saved = [];
    readonly Dictionary<string, FrameSource> watchers = [];
    AlertWatch? alerts;
    PauseAt? goal;
    double? pace;
    PaceClock clock;
    long lastFrame;
    string? reason;
    bool isOver;

    internal RunPlayer(RunJob job, RunSession session, ComputeGate gate, INotifications notifications, Action<Exception> unforeseen)
    {
        (this.job, this.session, this.gate, this.notifications, this.unforeseen) = (job, session, gate, notifications, unforeseen);
        clock = new PaceClock(session.Time, 1);
        job.State = RunStage.Paused;
        job.Reached = session.Time;
        _ = Task.Factory.StartNew(Loop, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
    }

    public IReadOnlyList<SavedState> Saved
    {
        get
        {
            lock (own)
                return [.. saved.Select(s => s.View)];
        }
    }

    /// <summary>What the run has left so far; null where it is busy or over.</summary>
    internal RunResult? Present(CancellationToken wanted)
    {
        try
        {
            return job.State == RunStage.Paused ? Asked(session.Result, wanted) : null;
        }
        catch (DocumentException)
        {
            // It ended between the look and the question; the job has its result.
            return null;
        }
    }

    /// <summary>Goes on until something happens.</summary>
    /// <param name="pace">Simulated over real time; null for as fast as it goes.</param>
    public void Go(PauseAt until, double? pace, CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                goal = until;
                Pace(pace);
                reason = null;
                job.State = RunStage.Running;
                return true;
            },
            wanted
        );

    /// <summary>Another pace from now on; a paused run stays paused.</summary>
    public void SetPace(double? another, CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                Pace(another);
                return true;
            },
            wanted
        );

    /// <summary>A paced run has its stops at ticks of the clock, whether these come late or not, so that it can be made again.</summary>
    void Pace(double? another)
    {
        pace = another;
        clock = new PaceClock(session.Time, another ?? 1);
        session.StopAt(Tick.TotalSeconds * another, goal?.Time);
    }

    public void Pause(CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                Paused("asked");
                return true;
            },
            wanted
        );

    /// <summary>Ends the run where it is.</summary>
    public void Stop(CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                Paused("stopped");
                isOver = true;
                return true;
            },
            wanted
        );

    /// <summary>Gives a parameter another value from this instant on.</summary>
    /// <exception cref="DocumentException">The value cannot be set while the run is under way.</exception>
    public void Set(string path, string text, CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                if (Compiler.Preparation.ValueChange.Read(session.Prepared, path, text) is not { } value || !session.Set(path, value, text))
                    throw new DocumentException(
                        $"{path} cannot become {text} during a run: it takes a number in its unit, and not where parts or "
                            + "equations depend on it. Change it in the model and run it anew."
                    );
                Frame(true);
                return true;
            },
            wanted
        );

    /// <summary>Saves where the run is, to come back to it.</summary>
    public SavedState Save(string? name, CancellationToken wanted = default) =>
        Asked(
            () =>
            {
                if (saved.Count >= MostSaved)
                    throw new DocumentException($"At most {MostSaved} states of a run are kept.");
                if (!session.HasStarted)
                    session.Advance(new PauseAt { Time = session.Options.Start });
                var view = new SavedState(
                    $"s{saved.Count + 1}",
                    string.IsNullOrWhiteSpace(name) ? FormattableString.Invariant($"at {session.Time:G6} s") : name.Trim(),
                    session.Time
                );
                lock (own)
                    saved.Add((view, session.Save()));
                return view;
            },
            wanted
        );

    /// <summary>A session that goes on from a saved state by itself, also of a run that is over.</summary>
    /// <exception cref="NotFoundException">There is no such state.</exception>
    internal RunSession Branch(string state, CancellationToken wanted)
    {
        SavedRun? found;
        bool still;
        lock (own)
            (found, still) = (saved.FirstOrDefault(s => s.View.Id == state).State, !isOver);
        if (found is null)
            throw new NotFoundException($"The run has no saved state '{state}'.");
        // What a branch takes over no longer changes once the run is over.
        return still ? Asked(() => session.Branch(found), wanted) : session.Branch(found);
    }

    /// <summary>The condition of a pause, as typed.</summary>
    /// <exception cref="DocumentException">It is no condition on this model.</exception>
    public Language.Terms.Term Condition(string text)
    {
        try
        {
            return RunCondition.Parse(session.Prepared, session.Parameters.Values, text);
        }
        catch (LanguageException e)
        {
            throw new DocumentException(e.Error.Message + (e.Error.Suggestion is null ? "" : " " + e.Error.Suggestion));
        }
    }

    /// <summary>Where states and transitions of charts pause the run.</summary>
    /// <exception cref="NotFoundException">The chart has no such state or transition any more.</exception>
    public Stop StopAt(ChartStop at)
    {
        var level = PartPath.TryParse(at.Chart, out var path) ? path : PartPath.Root;
        var gone = new NotFoundException("A place where the run should pause is not in the model of this run any more.");
        if (job.Document.Chart(level) is not { } found || session.Prepared.Map.NameOf(level) is not { } name)
            throw gone;
        var signals = Modeling.Charts.ChartSignals.Of(found.Chart);
        if (signals.States.TryGetValue(at.Item, out var active) && session.Prepared.Model.Find($"{name}.{active}") is { } state)
        {
            var term = new Language.Terms.VariableTerm(state.Index);
            return at.When == "exit"
                ? new Stop(new Language.Terms.OperationTerm(Language.Terms.Operator.Not, term), $"left {signals.Paths[at.Item]}")
                : new Stop(term, $"entered {signals.Paths[at.Item]}");
        }

        if (signals.Transitions.TryGetValue(at.Item, out var taken) && session.Prepared.Model.Find($"{name}.{taken}") is { } count)
            return new Stop(new Language.Terms.VariableTerm(count.Index), taken) { OnChange = true };
        throw gone;
    }

    /// <summary>The number of a sample clock by the part that has it; −1 for the next tick of any.</summary>
    /// <exception cref="NotFoundException">No part of that name samples.</exception>
    public int Clock(string? owner)
    {
        if (string.IsNullOrEmpty(owner))
            return -1;
        var index = session.Prepared.Model.Clocks.FindIndex(c => c.Owner == owner);
        return index >= 0 ? index : throw new NotFoundException($"No part '{owner}' with a sample time is in the model.");
    }

    /// <summary>Tells a window of the run from now on; null ends it.</summary>
    public void Watch(string watcher, RunWatchRequest? request)
    {
        lock (own)
        {
            watchers.Remove(watcher);
            if (request is not null)
                watchers[watcher] = new FrameSource(job, request);
        }

        wake.Set();
    }

    /// <summary>Has something done on the player's thread, between two steps.</summary>
    /// <exception cref="DocumentException">The run is over.</exception>
    T Asked<T>(Func<T> work, CancellationToken wanted)
    {
        var done = new TaskCompletionSource<T>(TaskCreationOptions.RunContinuationsAsynchronously);
        lock (own)
        {
            if (isOver)
                throw Over();
            asked.Enqueue((Do, () => done.SetException(Over())));
        }

        wake.Set();
        return done.Task.WaitAsync(wanted).GetAwaiter().GetResult();

        void Do()
        {
            try
            {
                done.SetResult(work());
            }
            catch (Exception e)
            {
                done.SetException(e);
            }
        }
    }

    static DocumentException Over() => new("The run is over. Play it anew, or go on from one of its states.");

    bool HasRequests
    {
        get
        {
            lock (own)
                return asked.Count > 0;
        }
    }

    void Loop()
    {
        var failure = job.Guarded(() =>
        {
            while (!isOver)
            {
                (Action Do, Action Refuse) next;
                bool any;
                lock (own)
                    any = asked.TryDequeue(out next);
                if (any)
                    next.Do();
                else if (goal is not null)
                    PlayOn();
                else if (job.Canceled.IsCancellationRequested || !wake.WaitOne(Idle))
                    isOver = true;
                else
                    Frame(false);
            }

            if (!session.HasStarted)
                session.Advance(new PauseAt { Time = session.Options.Start }, job.Canceled);
            job.End(session);
        });
        lock (own)
        {
            isOver = true;
            foreach (var (_, refuse) in asked)
                refuse();
            asked.Clear();
        }

        session.Dispose();
        if (failure is not null)
            unforeseen(failure);
        Frame(true);
        notifications.RunChanged(job.ModelId, RunSummary.Of(job));
    }

    /// <summary>Lets the run go on for one frame.</summary>
    void PlayOn()
    {
        var until = goal!;
        var isPaced = pace is not null;
        if (isPaced)
        {
            var stop = Math.Min(session.NextStop, session.Options.End);
            if (clock.Due < stop)
            {
                wake.WaitOne(Tick);
                return;
            }

            until = until with { Time = Math.Min(until.Time, stop) };
        }

        var started = Stopwatch.GetTimestamp();
        using (var lane = gate.Enter(job.Canceled, Urgency.Live))
        {
            // What is asked of a paced run waits for its next stop, unless that is far.
            var patience = isPaced ? StopTime : TimeSpan.Zero;
            var why = session.Advance(
                until,
                job.Canceled,
                _ => lane.Checkpoint(),
                () => Stopwatch.GetElapsedTime(started) is var spent && spent >= patience && (HasRequests || !isPaced && spent >= FrameTime)
            );
            job.Reached = session.Time;
            var goesOn = why == PauseReason.Asked || why == PauseReason.Time && session.Time < goal!.Time;
            if (!goesOn)
                Paused(why == PauseReason.Condition && session.StoppedBy is { } what ? what : why.ToString().ToLowerInvariant());
        }

        job.Judge(session, mustBe: false);
        clock.Reached(session.Time);
        isOver = session.IsOver;
        if (Stopwatch.GetElapsedTime(lastFrame) >= FrameTime)
            Frame(true);
    }

    void Paused(string why)
    {
        goal = null;
        reason = why;
        session.RecordNow();
        job.Judge(session, mustBe: true);
        job.State = RunStage.Paused;
        Frame(true);
    }

    /// <summary>Tells the windows.</summary>
    /// <param name="all">Whether also those that have been told before.</param>
    void Frame(bool all)
    {
        lastFrame = Stopwatch.GetTimestamp();
        List<(string Watcher, FrameSource Source)> told;
        lock (own)
            told = [.. watchers.Where(w => all || w.Value.IsNew).Select(w => (w.Key, w.Value))];
        if (told.Count == 0)
            return;
        alerts ??= new AlertWatch(job);
        var raised = alerts.Now();
        foreach (var (watcher, source) in told)
            notifications.Frame(
                watcher,
                source.Next(RunView.Word(job.State), job.Reached, pace, job.State == RunStage.Running ? clock.TruePace : 0, reason, raised)
            );
    }

    public void Dispose()
    {
        job.Cancel();
        wake.Set();
    }
}
