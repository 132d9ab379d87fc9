using System.Reflection.Emit;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Tests become jumps.</summary>
sealed partial class IlEmitter
{
    /// <summary>Jumps when a test does not hold.</summary>
    void Unless(Test test, Label target)
    {
        switch (test)
        {
            case NotTest n:
                var yes = il.DefineLabel();
                Unless(n.Operand, yes);
                il.Emit(OpCodes.Br, target);
                il.MarkLabel(yes);
                return;
            case AndTest a:
                Unless(a.Left, target);
                Unless(a.Right, target);
                return;
            case OrTest o:
                var second = il.DefineLabel();
                var end = il.DefineLabel();
                Unless(o.Left, second);
                il.Emit(OpCodes.Br, end);
                il.MarkLabel(second);
                Unless(o.Right, target);
                il.MarkLabel(end);
                return;
            case CompareTest c:
                Push(c.Left);
                Push(c.Right);
                Compare(c.Kind, target);
                return;
            case HeldTest h:
                Held(h, target);
                return;
            case CountedTest t:
                Counted(t, target);
                return;
            case VectorTest v:
                Vector(v, target);
                return;
            case NotedTest n:
                Noted(n, target);
                return;
            case NonZeroTest z:
                Push(z.Value);
                il.Emit(OpCodes.Ldc_R8, 0.0);
                il.Emit(OpCodes.Beq, target);
                return;
            default:
                throw new InvalidOperationException($"unknown test {test.GetType().Name}");
        }
    }

    /// <summary>Jumps when the comparison of the two numbers on the stack is false; comparisons with NaN are false.</summary>
    void Compare(Operator kind, Label target) =>
        il.Emit(
            kind switch
            {
                Operator.Less => OpCodes.Bge_Un,
                Operator.LessOrEqual => OpCodes.Bgt_Un,
                Operator.Greater => OpCodes.Ble_Un,
                Operator.GreaterOrEqual => OpCodes.Blt_Un,
                Operator.Equal => OpCodes.Bne_Un,
                _ => OpCodes.Beq,
            },
            target
        );

    void Held(HeldTest held, Label target)
    {
        var kept = il.DefineLabel();
        var falseNow = il.DefineLabel();
        il.LoadArgument(Argument.Mode);
        il.Emit(OpCodes.Ldc_I4, EvaluationMode.Event);
        il.Emit(OpCodes.Bne_Un, kept);
        Unless(held.Anew, falseNow);
        Store(held.Place, 1.0);
        il.Emit(OpCodes.Br, kept);
        il.MarkLabel(falseNow);
        Store(held.Place, 0.0);
        il.MarkLabel(kept);
        LoadMemory(held.Place);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Beq, target);
    }

    void Counted(CountedTest test, Label target)
    {
        var no = il.DefineLabel();
        var end = il.DefineLabel();
        Unless(test.Operand, no);
        Count(test.Place + 1);
        if (test.CountsTurns)
            Turn(test.Place + 2, 1, 2);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(no);
        Count(test.Place);
        if (test.CountsTurns)
            Turn(test.Place + 2, 2, 1);
        il.Emit(OpCodes.Br, target);
        il.MarkLabel(end);
    }

    /// <summary>Counts where the last outcome was the other one, and keeps this one.</summary>
    void Turn(int place, int other, int now)
    {
        var same = il.DefineLabel();
        LoadMemory(place);
        il.Emit(OpCodes.Ldc_R8, (double)other);
        il.Emit(OpCodes.Bne_Un, same);
        Count(place + now);
        il.MarkLabel(same);
        Store(place, now);
    }

    /// <summary>What the conditions of the tests around have noted, the innermost on top.</summary>
    readonly Stack<LocalBuilder> notes = [];

    void Vector(VectorTest test, Label target)
    {
        var no = il.DefineLabel();
        var end = il.DefineLabel();
        var note = il.DeclareLocal(typeof(int));
        il.Emit(OpCodes.Ldc_I4_0);
        il.Emit(OpCodes.Stloc, note);
        notes.Push(note);
        Unless(test.Operand, no);
        notes.Pop();
        CountNoted(test.Place + 1, note);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(no);
        CountNoted(test.Place, note);
        il.Emit(OpCodes.Br, target);
        il.MarkLabel(end);
    }

    void Noted(NotedTest test, Label target)
    {
        var note = notes.Pop();
        var no = il.DefineLabel();
        var end = il.DefineLabel();
        // Inside of a condition others may be decided.
        Unless(test.Operand, no);
        Add(2 * test.Weight);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(no);
        Add(test.Weight);
        il.Emit(OpCodes.Br, target);
        il.MarkLabel(end);
        notes.Push(note);

        void Add(int weight)
        {
            il.Emit(OpCodes.Ldloc, note);
            il.Emit(OpCodes.Ldc_I4, weight);
            il.Emit(OpCodes.Add);
            il.Emit(OpCodes.Stloc, note);
        }
    }

    /// <summary>Adds 1 to the place that lies twice a note behind another.</summary>
    void CountNoted(int place, LocalBuilder note)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldloc, note);
        il.Emit(OpCodes.Ldc_I4, 2 * sizeof(double));
        il.Emit(OpCodes.Mul);
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Dup);
        il.Emit(OpCodes.Ldind_R8);
        il.Emit(OpCodes.Ldc_R8, 1.0);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Stind_R8);
    }

    void Count(int place)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        LoadMemory(place);
        il.Emit(OpCodes.Ldc_R8, 1.0);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Stind_R8);
    }

    void Store(int place, double value)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldc_R8, value);
        il.Emit(OpCodes.Stind_R8);
    }
}
