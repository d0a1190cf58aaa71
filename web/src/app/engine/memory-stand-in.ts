// To be imported ahead of all else, by the page and by each worker that is handed pixels: where threads share no memory, the
// name has to stand for something all the same. What is posted then is a copy.
if (typeof SharedArrayBuffer === 'undefined') Reflect.set(globalThis, 'SharedArrayBuffer', ArrayBuffer);
