/**
 * A question that may be asked again before it is answered: only the newest answer is taken, whenever the others come,
 * and only the newest refusal is told. `overtake` has nothing taken of what is asked by now.
 */
export function newest<Asked extends unknown[], Answer>(
  ask: (...asked: Asked) => Promise<Answer>,
  take: (answer: Answer, ...asked: Asked) => void,
) {
  let last = 0;
  const question = async (...asked: Asked): Promise<void> => {
    const mine = (last += 1);
    try {
      const answer = await ask(...asked);
      if (mine === last) take(answer, ...asked);
    } catch (error) {
      if (mine === last) throw error;
    }
  };
  return Object.assign(question, { overtake: () => void (last += 1) });
}
