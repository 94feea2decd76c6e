import '@vitrocept/workers/browserWorker';
