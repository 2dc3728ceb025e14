import fc from 'fast-check';
import { commandHeard, CommandsSaid, type Done } from './commands';

test('over a line that breaks, says things twice and loses answers, each take is done once and in order', () => {
  const happening = fc.constantFrom('press', 'line breaks', 'arrives', 'arrives', 'answer arrives', 'answer is lost');
  fc.assert(
    fc.property(fc.array(happening, { maxLength: 120 }), (happenings) => {
      const stage = new CommandsSaid<number>();
      let done: Done = new Map();
      const took: number[] = [];
      let line: { number: number; what: number }[] = [];
      let answers: number[] = [];
      let pressed = 0;
      const arrive = () => {
        const command = line.shift();
        if (!command) return;
        const heard = commandHeard(done, 'tab', command.number);
        done = heard.done;
        if (heard.isNew) took.push(command.what);
        answers.push(command.number);
      };
      const breaks = () => {
        line = [...stage.unheard];
        answers = [];
      };
      for (const each of happenings) {
        if (each === 'press') line.push(stage.say(++pressed));
        else if (each === 'line breaks') breaks();
        else if (each === 'arrives') arrive();
        else if (each === 'answer arrives' && answers.length) stage.acknowledged(answers.shift()!);
        else answers.shift();
      }
      breaks();
      while (line.length) arrive();
      expect(took).toEqual(Array.from({ length: pressed }, (_, at) => at + 1));
    }),
    { numRuns: 400, seed: 4 },
  );
});

test('tabs are remembered within bounds, those that spoke last the longest', () => {
  let done: Done = new Map();
  for (let tab = 0; tab < 200; tab++) {
    done = commandHeard(done, 'first', tab + 1).done;
    done = commandHeard(done, `tab ${tab}`, 1).done;
  }
  expect(done.size).toBeLessThanOrEqual(64);
  expect(commandHeard(done, 'first', 200).isNew).toBe(false);
});
