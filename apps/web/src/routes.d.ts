declare module 'virtual:routes' {
  const routes: typeof import('@heron/contract').contract
  export default routes
}
