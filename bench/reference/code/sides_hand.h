/* The two sides with their counter, as somebody would write them by hand. */
#include <stdbool.h>
typedef struct { bool started, far_side; int count; } sides_hand;
void sides_hand_start(sides_hand *s);
bool sides_hand_step(sides_hand *s, bool wanted, bool blocked);
