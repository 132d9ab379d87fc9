block OutputPort "Output of a level"
  type Kind = enumeration(number "Number", whole "Whole number", truth "True or false");
  type Side = enumeration(left, right, top, bottom);
  input Real port "The signal that goes out";
  parameter Kind kind = Kind.number "Kind of signal";
  parameter Integer size(min = 0, max = 50) = 0 "Elements of a vector; 0 for one signal";
  parameter Side side = Side.right "Side of the part that the level is";
  annotation(__AnchorBend(port = "output", symbol = "exit", keywords = "port level boundary terminal out", width = 48, height = 32, help = "Takes a signal out of this level. Where the level is used as a part, it is an output of that name."));
end OutputPort;
