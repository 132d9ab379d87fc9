using System.Reflection.Emit;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Conditions become jumps, so that only what is needed is computed.</summary>
sealed partial class TermEmitter
{
    /// <summary>Pushes a condition as 0 or 1.</summary>
    void Boolean(Term term)
    {
        var no = il.DefineLabel();
        var end = il.DefineLabel();
        var result = il.DeclareLocal(typeof(double));
        Unless(term, no);
        il.Emit(OpCodes.Ldc_R8, 1.0);
        il.Emit(OpCodes.Stloc, result);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(no);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Stloc, result);
        il.MarkLabel(end);
        il.Emit(OpCodes.Ldloc, result);
    }

    /// <summary>Jumps when the condition is false.</summary>
    void Unless(Term term, Label target)
    {
        // What a condition needs is not always computed: one part may decide alone, and a relation may be held.
        conditions++;
        JumpUnless(term, target);
        conditions--;
    }

    void JumpUnless(Term term, Label target)
    {
        switch (term)
        {
            case OperationTerm { Kind: Operator.Not } o:
                var yes = il.DefineLabel();
                Unless(o.Left, yes);
                il.Emit(OpCodes.Br, target);
                il.MarkLabel(yes);
                return;
            case OperationTerm { Kind: Operator.And } o:
                Unless(o.Left, target);
                Unless(o.Right, target);
                return;
            case OperationTerm { Kind: Operator.Or } o:
                var second = il.DefineLabel();
                var end = il.DefineLabel();
                Unless(o.Left, second);
                il.Emit(OpCodes.Br, end);
                il.MarkLabel(second);
                Unless(o.Right, target);
                il.MarkLabel(end);
                return;
            case OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o when !IsHoisted(o):
                Value(o.Left);
                Value(o.Right);
                Compare(o.Kind, target);
                return;
            case RelationTerm r when plan.RelationIndex.TryGetValue(r, out var index):
                Relation(index, target);
                return;
            case RelationTerm r when !IsHoisted(r):
                Value(r.Left);
                Value(r.Right);
                Compare(r.Kind, target);
                return;
            default:
                Value(term);
                il.Emit(OpCodes.Ldc_R8, 0.0);
                il.Emit(OpCodes.Beq, target);
                return;
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

    /// <summary>A relation takes a new value in event mode and keeps the one in memory otherwise.</summary>
    void Relation(int index, Label target)
    {
        var relation = plan.Relations[index];
        var held = il.DefineLabel();
        var falseNow = il.DefineLabel();
        var stored = il.DefineLabel();
        var place = layout.RelationBase + index;
        il.LoadArgument(Argument.Mode);
        il.Emit(OpCodes.Ldc_I4_2);
        il.Emit(OpCodes.Bne_Un, held);
        if (relation.Compare is { } instant)
        {
            il.LoadArgument(Argument.Time);
            Value(instant);
            Compare(relation.TrueAfter ? Operator.GreaterOrEqual : Operator.Less, falseNow);
        }
        else
        {
            Value(relation.Term.Left);
            Value(relation.Term.Right);
            Compare(relation.Term.Kind, falseNow);
        }

        Store(place, 1.0);
        il.Emit(OpCodes.Br, stored);
        il.MarkLabel(falseNow);
        Store(place, 0.0);
        il.MarkLabel(stored);
        il.MarkLabel(held);
        LoadPlace(place);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Beq, target);
    }

    void Store(int place, double value)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldc_R8, value);
        il.Emit(OpCodes.Stind_R8);
    }
}
