/** Given names with their usual short forms, one family of forms a line. A form may stand in several. */
const families = `
abigail abby gail
abraham abe bram
adelaide addie heidi
albert al bert bertie
alexander alex alec sandy sasha xander lex alejandro alessandro aleksandr
alexandra alex sandra sandy sasha lexi
alfred al fred alfie
alice allie
amanda mandy
andrew andy drew andre andrei andreas
angela angie
ann anne anna annie nan nancy hannah
anthony tony antonio anton antoine
arthur art artie
barbara barb babs bobbie
bartholomew bart
benjamin ben benny benji
bernard bernie
bradley brad
bridget bridie biddy
calvin cal
cameron cam
carl karl charles carlos
caroline carol carrie caro
catherine katherine kathryn kate katie kathy cathy kay kit kitty katya catalina
charles charlie chuck chas chip carlos
charlotte lottie charlie lotte
christina christine chris tina chrissy kristina
christopher chris kit topher kris cristobal
clifford cliff
constance connie
cynthia cindy
daniel dan danny
david dave davey
deborah debra deb debbie
dennis denny
dominic dom nick
donald don donnie
dorothy dot dottie dolly
douglas doug
edmund ed eddie ned
edward ed eddie ted ned eduardo
edwin ed eddie
eleanor ellie nell nellie nora lenore
elizabeth liz lizzie beth betty bess betsy eliza libby lisa elsie elisabeth isabel
emily em emmy
emmanuel manny manuel
ernest ernie
esther essie hester
eugene gene
evelyn evie
florence flo flossie
frances fran fanny frankie
francis frank frankie fran francisco paco
franklin frank
frederick fred freddie fritz
gabriel gabe
gabrielle gabby
gareth gary
geoffrey geoff jeff jeffrey
george georgie jorge georg
gerald gerry jerry
geraldine gerry
gilbert gil bert
gregory greg gregor
gwendolyn gwen
harold harry hal
harriet hattie
helen nell nellie lena elena
henry harry hank hal enrique heinrich
herbert herb bert
hubert hugh bert
irene rene
isaac ike zack
isabella bella izzy isabel
jacob jake jack yakov
jacqueline jackie
james jim jimmy jamie jaime jem
jane janie jenny janet
janet jan jenny
jason jay
jennifer jen jenny
jeremy jerry jem
jessica jess jessie
joan joanie
joanna jo joanne
john jack johnny jon jean juan ivan johann giovanni sean ian
jonathan jon johnny nathan
joseph joe joey jose josef giuseppe
josephine jo josie
joshua josh
judith judy
julia julie jules
julian jules
karen kari
kenneth ken kenny
kimberly kim
laura laurie lori
laurence lawrence larry laurie lars
leo leon leonard
leonard len lenny leo
leslie les
lillian lily lil
louis lou louie lewis luis
louise lou lulu
lucille lucy
lydia liddy
madeleine maddie
margaret maggie meg peg peggy marge margie greta rita daisy margarita
maria mary marie maya
martha marty mattie patty
martin marty
mary molly polly mamie maria marie
matilda tilly mattie
matthew matt mateo
maurice morris moe
maximilian max
maxwell max
melissa missy lissa mel
michael mike mick mickey mikey miguel mikhail michel
michelle shelly micky
mildred millie
mitchell mitch
mohammed muhammad mohamed mo
montgomery monty
nathaniel nat nate nathan
nicholas nick nicky klaus nikolai nicolas
nicole nicky
norman norm
oliver ollie
olivia liv ollie
oscar ozzie
pamela pam
patricia pat patty tricia trish
patrick pat paddy rick
paul pablo pavel
paula polly
penelope penny
peter pete pedro pyotr
philip phil pip phillip felipe
priscilla cilla
prudence prue
rachel rae shelly
raymond ray
rebecca becky becca
regina gina
reginald reg reggie
richard rick rich dick ricky richie ricardo
robert bob bobby rob robbie bert roberto
roberta bobbie robbie
roderick rod
rodney rod
roger rodge
roland rollie
ronald ron ronnie
rosemary rose rosie romy
russell russ
samantha sam sammy
samuel sam sammy
sandra sandy
sarah sara sally sadie
scott scotty
sebastian seb bas
sharon shari
sidney sid
sigmund sig
simon si
solomon sol
sophia sophie
stanley stan
stephanie steph
stephen steven steve stevie stefan esteban
stuart stu stewart
susan sue susie suzanne susanna
sylvester sly
terence terry
theodore ted teddy theo
theresa teresa terry tess tessa
thomas tom tommy tomas
timothy tim timmy
tobias toby
valerie val
vanessa nessa
veronica ronnie
victor vic viktor
victoria vicky tori
vincent vince vinny
virginia ginny
vivian viv
walter walt wally
wilhelmina mina minnie billie
william bill billy will willie liam guillermo wilhelm
winifred winnie freda
winston win
zachary zach zack
`

const related = new Map<string, Set<string>>()
for (const line of families.trim().split('\n')) {
  const forms = line.split(' ')
  for (const form of forms) {
    const known = related.get(form) ?? new Set<string>()
    for (const other of forms) if (other !== form) known.add(other)
    related.set(form, known)
  }
}

/** Other usual forms of a given name, in lower case: `bill` gives `william`, `billy`, `will` … */
export const shortForms = (word: string): readonly string[] => [...(related.get(word) ?? [])]
/** Whether one given name is a short form of the other, or both of a third. */
export const areShortForms = (a: string, b: string): boolean => related.get(a)?.has(b) ?? false
