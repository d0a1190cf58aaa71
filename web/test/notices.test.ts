import { describe, expect, it } from 'vitest';
import { Notices } from '../src/app/project/session/notices';

const texts = (notices: Notices): string[] => notices.all().map(({ text }) => text);

describe('notices', () => {
  it('stand beside each other until they are put away', () => {
    const notices = new Notices();
    notices.error('one');
    notices.error('two');
    expect(texts(notices)).toEqual(['one', 'two']);
    notices.dismiss(notices.all()[0]!);
    expect(texts(notices)).toEqual(['two']);
  });

  it('take the place of older ones about the same, and are not doubled', () => {
    const notices = new Notices();
    notices.error('saving failed', 'saving');
    notices.error('other');
    notices.error('no room', 'saving');
    notices.error('other');
    expect(texts(notices)).toEqual(['no room', 'other']);
    notices.clear('saving');
    expect(texts(notices)).toEqual(['other']);
  });

  it('that offer something outlast any number of those that do not', () => {
    const notices = new Notices();
    notices.show({ kind: 'info', text: 'open elsewhere', action: { label: 'Copy', run: () => undefined } });
    for (let i = 0; i < 9; i++) notices.error(`error ${i}`);
    expect(texts(notices)).toEqual(['open elsewhere', 'error 6', 'error 7', 'error 8']);
  });
});
