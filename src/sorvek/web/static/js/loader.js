// The loaders' page follows what others write down: it is fetched anew every ten seconds.
setTimeout(() => location.reload(), 10000);
