declare module 'spelling-dictionary/*?url' {
  const url: string
  export default url
}
