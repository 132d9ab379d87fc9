using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Simulation;

/// <summary>Models of high index: the choice of states, and changing it where the motion makes it a poor one.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Logarithm of how much better another choice must be: changing costs a restart, so it must not go to and fro.</summary>
    static readonly double WorthChanging = Math.Log(2.5);

    long stateChanges;
    HashSet<int>? dummies;
    StateChoice.Review[]? reviews;

    TermEvaluator? afterStep;

    double ValueByTerm(Term term) =>
        (afterStep ??= new TermEvaluator(v => model.Value(v), null, d => model.Delayed(d, integrator.Time))).Evaluate(term);

    /// <summary>Parameters may have changed since the plan was made: the choice must suit the start values of this run.</summary>
    void ChooseStatesAtStart()
    {
        if (plan.Reduced is not { } reduced)
            return;
        if (
            reduced.Model.ChooseAtStart(model.Parameters.Values, model.Parameters.Starts, options.Start) is not { } chosen
            || chosen.AsSpan().SequenceEqual(reduced.Dummies)
        )
            return;
        if (compiled.ForChoice(chosen) is not { } other)
            return;
        var parameters = model.Parameters;
        model.Dispose();
        integrator.Dispose();
        SwitchPlan(other, new ModelInstance(other, parameters));
    }

    /// <summary>After a step: whether another choice of states determines the rest much better.</summary>
    void ReconsiderStates()
    {
        if (plan.Reduced is not { } reduced)
            return;
        var isPoor = false;
        dummies ??= [.. reduced.Dummies];
        reviews ??= [.. reduced.Model.Choices.Where(c => c.IsDynamic).Select(c => new StateChoice.Review(c))];
        foreach (var review in reviews)
        {
            review.Read(ValueByTerm);
            if (review.BestQuality() > review.QualityOf(dummies) + WorthChanging)
                isPoor = true;
        }

        if (!isPoor || reduced.Model.Choose(ValueByTerm) is not { } chosen || chosen.AsSpan().SequenceEqual(reduced.Dummies))
            return;
        if (compiled.ForChoice(chosen) is { } other)
            ChangeStates(other);
    }

    /// <summary>Goes on with other states from the same point: every variable keeps its value.</summary>
    void ChangeStates(CompiledPlan other)
    {
        var time = integrator.Time;
        var step = integrator.NextStep;
        model.Evaluate(time, model.States, model.StateDerivatives, EvaluationMode.Outputs);
        var next = new ModelInstance(other, model.Parameters);
        next.Continue(model);
        countsBefore = countsBefore.Plus(integrator.Counts);
        model.Dispose();
        integrator.Dispose();
        SwitchPlan(other, next);
        dummies = null;
        known = Known.Nothing;
        stateChanges++;
        model.FromLeft = false;
        model.Evaluate(time, model.States, model.StateDerivatives, EvaluationMode.Outputs);
        integrator.Restart(time, model.States, step);
        PlanTimeEvents(time);
    }
}
