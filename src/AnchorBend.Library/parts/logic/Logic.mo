block Logic "Combines conditions"
  type Kind = enumeration('and' "All", 'or' "At least one", exclusive "An odd number", nand "Not all", nor "None");
  parameter Kind kind = Kind.'and' "Operation";
  parameter Integer n(min = 1, max = 20) = 2 "Number of inputs";
  input Boolean u[n] "Inputs";
  output Boolean y "Output";
protected
  Integer count "How many inputs are true";
equation
  count = sum({if u[i] then 1 else 0 for i in 1:n});
  y = if kind == Kind.'and' then count == n elseif kind == Kind.'or' then count > 0
    elseif kind == Kind.exclusive then count == 1 or count == 3 or count == 5 or count == 7 or count == 9 or count == 11 or count == 13 or count == 15 or count == 17 or count == 19
    elseif kind == Kind.nand then count < n else count == 0;
  annotation(__AnchorBend(choiceWords = true, group = "Logic", face = "\\text{<<kind>>}", keywords = "and or xor nand nor not boolean gate", width = 64, help = "Combines its inputs. With one input, nor is the negation.", validity = "Exact."));
end Logic;
