using System.Text.RegularExpressions;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Language.Rules;

/// <summary>
/// Reads temporal conditions:
/// <code>
/// rule  = whenever state then rule | after state , rule | claim
/// claim = always claim | never claim | eventually claim | within time claim
///       | part [ (and | or | implies) claim ] | part until [within time] claim
/// part  = [not] ( claim ) | state, either with: for at least time
/// </code>
/// A state is a condition of the equation language over the run's signals, in which <c>becomes</c> and <c>is</c> stand for <c>==</c>,
/// <c>stays below</c> and <c>is below</c> for <c>&lt;</c>, and <c>stays above</c> and <c>is above</c> for <c>&gt;</c>.
/// </summary>
public sealed partial class RuleParser
{
    static readonly string[] Prefixes = ["always", "never", "eventually", "within", "whenever", "after"];
    static readonly string[] Ends = ["then", "until", "implies", "for", .. Prefixes];

    readonly string text;
    int at;

    RuleParser(string text) => this.text = text;

    /// <exception cref="LanguageException">It cannot be read.</exception>
    public static Rule Parse(string text)
    {
        if (string.IsNullOrWhiteSpace(text))
            throw new LanguageException("empty", "A rule is needed here, such as always depth < 21 m.", default);
        var parser = new RuleParser(text);
        var rule = parser.Rule();
        return parser.IsAtEnd ? rule : throw parser.Unexpected("the end of the rule");
    }

    /// <summary>The states of a rule, for what looks for names in them.</summary>
    public static IEnumerable<State> StatesOf(Rule rule) =>
        rule switch
        {
            State s => [s],
            Not n => StatesOf(n.Of),
            Always a => StatesOf(a.Of),
            Eventually e => StatesOf(e.Of),
            Both b => StatesOf(b.First).Concat(StatesOf(b.Second)),
            Either e => StatesOf(e.First).Concat(StatesOf(e.Second)),
            Until u => StatesOf(u.First).Concat(StatesOf(u.Second)),
            After a => StatesOf(a.Event).Concat(StatesOf(a.Then)),
            Whenever w => StatesOf(w.Event).Concat(StatesOf(w.Then)),
            _ => [],
        };

    /// <summary>The times of a rule, as typed.</summary>
    public static IEnumerable<string> TimesOf(Rule rule) =>
        rule switch
        {
            Not n => TimesOf(n.Of),
            Always a => Own(a.For).Concat(TimesOf(a.Of)),
            Eventually e => Own(e.Within).Concat(TimesOf(e.Of)),
            Both b => TimesOf(b.First).Concat(TimesOf(b.Second)),
            Either e => TimesOf(e.First).Concat(TimesOf(e.Second)),
            Until u => Own(u.Within).Concat(TimesOf(u.First)).Concat(TimesOf(u.Second)),
            After a => TimesOf(a.Event).Concat(TimesOf(a.Then)),
            Whenever w => TimesOf(w.Event).Concat(TimesOf(w.Then)),
            _ => [],
        };

    static IEnumerable<string> Own(string? time) => time is null ? [] : [time];

    bool IsAtEnd
    {
        get
        {
            Skip();
            return at >= text.Length;
        }
    }

    void Skip()
    {
        while (at < text.Length && char.IsWhiteSpace(text[at]))
            at++;
    }

    Rule Rule()
    {
        if (Take("whenever"))
        {
            var state = Part();
            Need("then");
            return new Whenever(state, Rule());
        }

        if (!Take("after"))
            return Claim();
        var begin = Part();
        Skip();
        if (at >= text.Length || text[at] != ',')
            throw Unexpected("a comma behind what the rule begins with");
        at++;
        return new After(begin, Rule());
    }

    Rule Claim()
    {
        if (Take("always"))
            return new Always(Claim(), null);
        if (Take("never"))
            return new Always(new Not(Claim()), null);
        if (Take("eventually"))
            return new Eventually(Claim(), null);
        if (Take("within"))
        {
            var time = Time();
            return new Eventually(Claim(), time);
        }

        if (Take("whenever") || Take("after"))
            throw new LanguageException("rule", "'whenever' and 'after' begin a rule; they do not stand inside of another claim.", default);
        var part = Part();
        if (Take("until"))
            return new Until(part, UntilClaim(out var within), within);
        if (Take("implies"))
            return new Either(new Not(part), Joined("implies"));
        if (Take("and"))
            return new Both(part, Joined("and"));
        return Take("or") ? new Either(part, Joined("or")) : part;
    }

    /// <summary>The claim behind a connective. One with another connective at its level needs brackets, so that nobody has to know which
    /// binds first.</summary>
    Rule Joined(string connective)
    {
        var before = text[..(at - connective.Length)];
        if (connective == "and" && Level(before).Contains("or"))
            throw Mixed();
        var begin = at;
        var claim = Claim();
        if (Level(text[begin..at]).Any(w => w is "and" or "or" or "implies" && w != connective))
            throw Mixed();
        return claim;
    }

    static LanguageException Mixed() =>
        new("rule", "'and', 'or' and 'implies' meet without brackets.", default, "Put brackets around what belongs together.");

    /// <summary>Words outside of brackets and quotes, those of the innermost open bracket on.</summary>
    static List<string> Level(string part)
    {
        var levels = new Stack<List<string>>([
            [],
        ]);
        foreach (Match m in Word().Matches(part))
            if (m.Value is "(")
                levels.Push([]);
            else if (m.Value is ")")
            {
                if (levels.Count > 1)
                    levels.Pop();
            }
            else
                levels.Peek().Add(m.Value);
        return levels.Peek();
    }

    [GeneratedRegex(@"'[^']*'|""[^""]*""|[A-Za-z_]\w*|[()]")]
    private static partial Regex Word();

    Rule UntilClaim(out string? within)
    {
        within = Take("within") ? Time() : null;
        return Claim();
    }

    Rule Part()
    {
        Skip();
        var isNot = false;
        var begin = at;
        if (Take("not"))
        {
            isNot = true;
            Skip();
        }

        Rule part;
        if (at < text.Length && text[at] == '(' && IsTemporal(text[(at + 1)..Closing(at)]))
        {
            at++;
            part = Claim();
            Skip();
            if (at >= text.Length || text[at] != ')')
                throw Unexpected("')'");
            at++;
            part = isNot ? new Not(part) : part;
        }
        else
        {
            at = begin;
            part = ReadState();
        }

        if (!Take("for"))
            return part;
        if (!Take("at") || !Take("least"))
            throw Unexpected("'for at least' and a time");
        return new Always(part, Time());
    }

    /// <summary>A condition up to the next word of the rule at its level.</summary>
    State ReadState()
    {
        Skip();
        var (begin, depth, quote) = (at, 0, '\0');
        for (; at < text.Length; at++)
        {
            var c = text[at];
            if (quote != '\0')
            {
                quote = c == quote ? '\0' : quote;
                continue;
            }

            if (c is '\'' or '"')
                quote = c;
            else if (c is '(' or '[' or '{')
                depth++;
            else if (c is ')' or ']' or '}' && depth-- == 0 || c == ',' && depth == 0)
                break;
            else if (depth == 0 && IsWordStart(at) && WordAt(at) is var word)
            {
                if (Ends.Contains(word) || word is "and" or "or" && GoesOnTemporally(at + word.Length))
                    break;
                at += word.Length - 1;
            }
        }

        var state = text[begin..at].Trim();
        return state.Length > 0 ? new State(state, begin) : throw Unexpected("a condition on signals, such as depth > 12 m");
    }

    /// <summary>Whether a temporal word, or brackets with one, follow.</summary>
    bool GoesOnTemporally(int from)
    {
        while (from < text.Length && char.IsWhiteSpace(text[from]))
            from++;
        if (from < text.Length && WordAt(from) == "not")
            return GoesOnTemporally(from + 3);
        return from < text.Length && (text[from] == '(' ? IsTemporal(text[(from + 1)..Closing(from)]) : Prefixes.Contains(WordAt(from)));
    }

    static bool IsTemporal(string inner) => TemporalWord().IsMatch(inner);

    int Closing(int open)
    {
        var depth = 0;
        for (var i = open; i < text.Length; i++)
            if (text[i] is '(' or '[' or '{')
                depth++;
            else if (text[i] is ')' or ']' or '}' && --depth == 0)
                return i;
        at = open;
        throw Unexpected("')' for this bracket");
    }

    bool IsWordStart(int i) =>
        (char.IsLetter(text[i]) || text[i] == '_') && (i == 0 || !char.IsLetterOrDigit(text[i - 1]) && text[i - 1] is not ('_' or '.'));

    string WordAt(int i)
    {
        var end = i;
        while (end < text.Length && (char.IsLetterOrDigit(text[end]) || text[end] == '_'))
            end++;
        return text[i..end];
    }

    bool Take(string word)
    {
        Skip();
        if (at >= text.Length || !IsWordStart(at) || WordAt(at) != word)
            return false;
        at += word.Length;
        return true;
    }

    void Need(string word)
    {
        if (!Take(word))
            throw Unexpected($"'{word}'");
    }

    /// <summary>A time as fields have it: a number with a unit, a name, or an expression in brackets.</summary>
    string Time()
    {
        Skip();
        if (at < text.Length && text[at] == '(')
        {
            var close = Closing(at);
            var inner = text[(at + 1)..close];
            at = close + 1;
            return inner;
        }

        var match = TimeText().Match(text, at);
        if (!match.Success)
            throw Unexpected("a time with its unit, such as 20 s");
        at = match.Index + match.Length;
        return match.Value.Trim();
    }

    LanguageException Unexpected(string wanted)
    {
        Skip();
        var found = at < text.Length ? $"'{text[at..Math.Min(text.Length, at + 20)]}'" : "the end";
        return new LanguageException(
            "rule",
            $"Wanted {wanted}, found {found}.",
            default,
            "For example: whenever mode == 2 then within 20 s depth < 12 m."
        );
    }

    /// <summary>A state with its words written as operators, everything else at its place.</summary>
    public static string Plain(string state) =>
        Equality()
            .Replace(Order().Replace(state, m => (m.Groups[1].Value == "below" ? "<" : ">").PadRight(m.Length)), m =>
                "==".PadRight(m.Length)
            );

    /// <summary>Names in a rule's states, in the order in which they stand.</summary>
    /// <exception cref="LanguageException">It cannot be read.</exception>
    public static IReadOnlyList<NameInText> NamesIn(string text) =>
        [
            .. StatesOf(Parse(text))
                .SelectMany(s => Parser.NamesInMeasure(Plain(s.Text)).Select(n => n with { Start = s.Start + n.Start }))
                .OrderBy(n => n.Start),
        ];

    [GeneratedRegex(@"\b(always|never|eventually|within|whenever|after|until|implies|for\s+at\s+least)\b")]
    private static partial Regex TemporalWord();

    [GeneratedRegex(@"\G(?:\d+\.?\d*(?:[eE][-+]?\d+)?\s*(?:min|ms|us|µs|s|h|d)\b|[A-Za-z_][\w.]*)")]
    private static partial Regex TimeText();

    [GeneratedRegex(@"\b(?:stays|is)\s+(below|above)\b")]
    private static partial Regex Order();

    [GeneratedRegex(@"\b(?:becomes|is)\b")]
    private static partial Regex Equality();
}
