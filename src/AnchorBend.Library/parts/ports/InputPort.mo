block InputPort "Input of a level"
  type Kind = enumeration(number "Number", whole "Whole number", truth "True or false");
  type Side = enumeration(left, right, top, bottom);
  output Real port "The signal from outside";
  parameter Kind kind = Kind.number "Kind of signal";
  parameter Integer size(min = 0, max = 50) = 0 "Elements of a vector; 0 for one signal";
  parameter Side side = Side.left "Side of the part that the level is";
  annotation(__AnchorBend(port = "input", symbol = "entry", keywords = "port level boundary terminal in", width = 48, height = 32, help = "Brings a signal into this level. Where the level is used as a part, it is an input of that name."));
end InputPort;
